import { brass } from './brass'
import { inCase } from './cases'
import { lowBrass } from './lowBrass'
import { percussion } from './percussion'
import { saxophones } from './saxophones'
import { scenes } from './scenes'
import { type Shape } from './shape'
import { standing } from './standing'
import { bowed } from './strings'
import { woodwind } from './woodwind'

export const instruments: Record<string, Shape> = {
  ...woodwind,
  ...saxophones,
  ...brass,
  ...lowBrass,
  ...percussion,
  ...bowed,
  ...standing,
}

const lying = Object.entries(instruments).flatMap(([name, shape]) => {
  const laid = inCase(name, shape)
  return laid ? [[`${name}-case`, laid] as const] : []
})

/** All drawings by name: instruments, how some lie in their cases (with -case), and the pairs of right and wrong of drills. */
export const drawings: Record<string, Shape> = { ...instruments, ...Object.fromEntries(lying), ...scenes }
