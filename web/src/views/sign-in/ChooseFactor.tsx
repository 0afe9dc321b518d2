import { useSignOut } from '../../shell/Rail'
import { SecondFactor } from '../settings/SecondFactor'

/** Where the school asks for a second factor and somebody has none: they choose one, or leave. */
export default function ChooseFactor() {
  const leave = useSignOut()
  return (
    <main className="mx-auto grid max-w-3xl gap-6 p-6">
      <h1 className="text-3xl">One step before you go on</h1>
      <SecondFactor />
      <button className="because no-print justify-self-start" onClick={() => leave()}>
        sign out
      </button>
    </main>
  )
}
