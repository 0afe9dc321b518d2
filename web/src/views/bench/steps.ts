import type { Schemas } from '../../api/client'

/** The step that an instrument is at. */
export type Current = { item: Schemas['BenchItem']; step: Schemas['BenchStep'] }

/** A tap on it: its time runs, or it is done. */
export type Ticking = Current & { act: 'begin' | 'done'; override: string }
