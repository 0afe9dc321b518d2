import { away, count, longWeekday } from '../../words'

type Waiting = { next?: { days: number; on: string } | undefined }

/** Who cannot play when, true of each: "1 player can’t play tomorrow, 2 on Monday". The soonest come first. */
export function headline(list: Waiting[]) {
  const times = new Map<string, number>()
  for (const { next } of list) {
    const time = next ? when(next) : 'with no rehearsal in sight'
    times.set(time, (times.get(time) ?? 0) + 1)
  }
  const parts = [...times].map(([time, n], at) =>
    at === 0 ? `${count(n, 'player')} can’t play${time ? ` ${time}` : ''}` : `${String(n)} ${time}`,
  )
  return parts.join(', ')
}

function when({ days, on }: { days: number; on: string }) {
  return days < 2 || days > 6 ? away(days) : `on ${longWeekday(on)}`
}
