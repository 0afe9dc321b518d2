import { useSignOut } from '../../shell/Rail'
import { Passkeys } from '../settings/Passkeys'
import { SecondFactor } from '../settings/SecondFactor'

/** Where the school asks for a second factor and somebody has neither it nor a passkey: they choose one, or leave. */
export default function ChooseFactor() {
  const leave = useSignOut()
  return (
    <main className="mx-auto grid max-w-3xl gap-6 p-6">
      <h1 className="text-3xl">One step before you go on</h1>
      <p className="quiet">
        Your school asks for more than a password: a passkey of a device, or a code of your telephone. One of them does.
      </p>
      <Passkeys />
      <SecondFactor />
      <button className="because no-print justify-self-start" onClick={() => leave()}>
        sign out
      </button>
    </main>
  )
}
