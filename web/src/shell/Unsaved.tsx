import { Problem } from '../api/client'
import type { useFinish } from '../api/finish'

/** Says what became of a tick that is not saved yet, or cannot be. */
export function Unsaved({ finish }: { finish: ReturnType<typeof useFinish> }) {
  if (finish.isPending && finish.failureCount > 0)
    return (
      <p role="alert" className="my-2 text-warning">
        The server does not answer. What you ticked is kept here and sent as soon as it does.
      </p>
    )
  if (finish.error)
    return (
      <p role="alert" className="my-2 text-error">
        {finish.error instanceof Problem && finish.error.outcome !== 'refused'
          ? `Not saved yet: ${finish.error.message} It is kept here and sent again when you come back.`
          : `Not ticked off: ${finish.error.message}`}
      </p>
    )
  return null
}
