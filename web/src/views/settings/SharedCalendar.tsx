import { useState } from 'react'
import { api, take } from '../../api/client'
import { refresh, useFeed, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'
import { Reached } from '../../shell/Reached'
import { Shown } from './Shown'
import { newSecret } from '../../api/secret'

/** Concerts, planned work and due-back days for a calendar program: a file, or an address that it reads by itself. */
export function SharedCalendar() {
  const { data } = useFeed()
  const may = useMay('change settings')
  const notice = useNotice()
  const [path, setPath] = useState<string>()
  const share = useWrite({
    send: (secret: string) => take(api.PUT('/api/v1/calendar-feed', { body: secret ? { secret } : {} })),
    onSuccess: async (_, secret) => {
      setPath(secret ? `/calendar/${secret}.ics` : undefined)
      if (!secret) notice.show('The address leads nowhere any more.')
      await refresh()
    },
    onError: (problem) => notice.show(problem.message),
  })
  return (
    <section aria-label="For your own calendar" className="mt-6">
      <h2>For your own calendar</h2>
      <p className="quiet text-sm">
        Concerts, planned strings, due-back days, by tags and without names.{' '}
        <a className="link" href="/api/v1/calendar.ics" download>
          As a file
        </a>
        {data?.shared
          ? ', or under the secret address that was given out.'
          : ', or under a secret address that a calendar program reads by itself.'}
      </p>
      {path && (
        <Reached>
          {(at) => <Shown label="Secret address" value={at + path} note="Whoever has it reads the calendar." />}
        </Reached>
      )}
      {may && (
        <p className="mt-2 flex flex-wrap gap-2">
          <button className="btn btn-sm" disabled={share.isPending} onClick={() => share.mutate(newSecret())}>
            {data?.shared ? 'New address, the old one ends' : 'Make a secret address'}
          </button>
          {data?.shared && (
            <button className="btn btn-sm" disabled={share.isPending} onClick={() => share.mutate('')}>
              End the address
            </button>
          )}
        </p>
      )}
    </section>
  )
}
