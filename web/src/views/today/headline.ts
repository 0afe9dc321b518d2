import type { Schemas } from '../../api/client'
import { away, count, longWeekday } from '../../words'

type Waiting = { next?: { days: number; on: string } | undefined }

/**
 * Who cannot play when, true of each: "1 player can’t play tomorrow, 2 on Monday". The soonest come first. Who says so on a card, and nobody
 * has looked yet, is counted as that.
 */
export function headline(list: Waiting[], said = 0) {
  const times = new Map<string, number>()
  for (const { next } of list) {
    const time = next ? when(next) : 'with no rehearsal in sight'
    times.set(time, (times.get(time) ?? 0) + 1)
  }
  const parts = [...times].map(([time, n], at) =>
    at === 0 ? `${count(n, 'player')} can’t play${time ? ` ${time}` : ''}` : `${String(n)} ${time}`,
  )
  if (said > 0)
    parts.push(
      list.length > 0
        ? `${String(said)} more ${said > 1 ? 'say' : 'says'} so, not looked at yet`
        : `${count(said, 'player')} ${said > 1 ? 'say' : 'says'} that they can’t play, not looked at yet`,
    )
  return parts.join(', ')
}

/** How many instruments are said not to be playable that are not known to be. */
export function saySo({ reports, cannot_play }: Pick<Schemas['Today'], 'reports' | 'cannot_play'>) {
  const known = new Set(cannot_play.map((b) => b.instrument_id))
  return new Set(reports.filter((r) => r.plays === 'no' && !known.has(r.instrument_id)).map((r) => r.instrument_id))
    .size
}

function when({ days, on }: { days: number; on: string }) {
  return days < 2 || days > 6 ? away(days) : `on ${longWeekday(on)}`
}
