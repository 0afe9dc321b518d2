import { brass } from './brass'
import { inCase } from './cases'
import { percussion } from './percussion'
import { scenes } from './scenes'
import { type Shape } from './shape'
import { bowed } from './strings'
import { woodwind } from './woodwind'

const instruments: Record<string, Shape> = { ...woodwind, ...brass, ...percussion, ...bowed }

const lying = Object.entries(instruments).flatMap(([name, shape]) => {
  const laid = inCase(name, shape)
  return laid ? [[`${name}-case`, laid] as const] : []
})

/** All drawings by name: instruments, how some lie in their cases (with -case), and the pairs of right and wrong of drills. */
export const drawings: Record<string, Shape> = { ...instruments, ...Object.fromEntries(lying), ...scenes }
