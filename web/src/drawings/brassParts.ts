import { box, line } from './shape'

/** A detail of a part. */
export const fine = (part: string) => ({ fine: true as const, part })

/** A piston valve, upright: casing with its caps, and the button on top. */
export const valve = (x: number, top: number, height: number, width: number) => [
  box(x - width / 2, top, width, height, { part: 'valves' }),
  box(x - width / 2 - width * 0.1, top, width * 1.2, height * 0.08, { part: 'valves', fine: true }),
  box(x - width / 2 - width * 0.1, top + height * 0.92, width * 1.2, height * 0.08, { part: 'valves', fine: true }),
  line(`M${String(x)} ${String(top)}v${String(-height * 0.17)}`, { heavy: true, part: 'valves' }),
  line(`M${String(x - width * 0.38)} ${String(top - height * 0.18)}h${String(width * 0.76)}`, {
    heavy: true,
    part: 'valves',
  }),
]

/** A mouthpiece along x, its cup first. */
export const mouthpiece = (x: number, y: number, cup: number, length: number) => ({
  d: `M${String(x)} ${String(y - cup / 2)}h${String(length * 0.25)}l${String(length * 0.2)} ${String(cup * 0.3)}h${String(length * 0.55)}v${String(cup * 0.4)}h${String(-length * 0.55)}l${String(-length * 0.2)} ${String(cup * 0.3)}h${String(-length * 0.25)}z`,
  part: 'mouthpiece',
})
