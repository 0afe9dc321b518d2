import { api, take, type Schemas } from '../../api/client'
import { refresh, useKitTiers, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'
import { useNotice } from '../../shell/notice'

type Tier = Schemas['TierOf']['tier']

const tierNames: Record<Tier, string> = { case: 'Every case', full: 'Full kit', cupboard: 'Cupboard' }
const tiers = Object.keys(tierNames) as Tier[]

/** Where each thing of a kit is kept: in every case, in a full kit only, or in the cupboard of the school. */
export function KitTiers() {
  const { data, error } = useKitTiers()
  if (error && !data) return <p role="alert">{error.message}</p>
  if (!data) return <p className="quiet">Opening the cases…</p>
  if (data.length === 0) return <p>There is no instrument yet, so there is no kit.</p>
  return (
    <section aria-label="Where things are" className="max-w-4xl">
      <p className="quiet max-w-3xl">
        What is in every case is looked for at each hand-over and stands on the care card. A full kit is for instruments
        that are set so in their own file, or for all by a school of practice. The cupboard is the school’s: what is
        there is used up and ordered, and no child answers for it.
      </p>
      <div className="mt-3 grid gap-x-10 gap-y-5 md:grid-cols-2">
        {data.map((kit) => (
          <Kit key={kit.kit} kit={kit} />
        ))}
      </div>
    </section>
  )
}

function Kit({ kit }: { kit: Schemas['KitTiers'] }) {
  return (
    <section aria-label={kit.kinds.join(', ')}>
      <h2 className="border-b-2 border-base-content pb-1">{kit.kinds.join(', ')}</h2>
      {kit.things.map((thing) => (
        <Thing key={thing.supply} kit={kit.kit} of={kit.kinds[0] ?? ''} thing={thing} />
      ))}
      {kit.empty.length > 0 && (
        <p className="quiet mt-1 text-sm">
          Nothing of it is in the {kit.empty.map((t) => tierNames[t as Tier].toLowerCase()).join(' or the ')}.
        </p>
      )}
    </section>
  )
}

function Thing({ kit, of, thing }: { kit: string; of: string; thing: Schemas['TierOf'] }) {
  const may = useMay('change settings')
  const notice = useNotice()
  const move = useWrite({
    send: (tier: Tier) =>
      take(
        api.PUT('/api/v1/kits', {
          params: { query: { version: thing.version } },
          body: { kit, supply: thing.supply, tier },
        }),
      ),
    onSuccess: refresh,
    onError: (problem) => notice.show(problem.message),
  })
  return (
    <div className="line flex items-center justify-between gap-3 py-1">
      <span>
        {thing.name}
        {thing.note && <span className="quiet text-sm"> {thing.note}</span>}
        {thing.tier !== thing.usual && (
          <span className="quiet text-sm"> usually: {tierNames[thing.usual].toLowerCase()}</span>
        )}
      </span>
      {thing.to_play ? (
        <span className="quiet text-sm">to play</span>
      ) : (
        <select
          className="select select-sm w-32"
          aria-label={`${of}: where the ${thing.name} is kept`}
          disabled={!may || move.isPending}
          value={thing.tier}
          onChange={(e) => move.mutate(e.currentTarget.value as Tier)}
        >
          {tiers.map((t) => (
            <option key={t} value={t}>
              {tierNames[t]}
            </option>
          ))}
        </select>
      )}
    </div>
  )
}
