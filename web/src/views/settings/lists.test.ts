import { expect, test } from 'vitest'
import { currenciesWith, localesWith, timeZonesWith } from './lists'

test('what the school has stands among the choices, and names say what codes mean', () => {
  expect(localesWith('en-GB').find((l) => l.key === 'en-GB')?.name).toContain('24/11/2026')
  expect(localesWith('is-IS').some((l) => l.key === 'is-IS')).toBe(true)
  expect(currenciesWith('EUR').find((c) => c.key === 'EUR')?.name).toBe('Euro, EUR')
  expect(timeZonesWith('UTC').filter((z) => z.key === 'UTC')).toHaveLength(1)
  expect(timeZonesWith('UTC').find((z) => z.key === 'Europe/Lisbon')?.name).toBe('Europe, Lisbon')
})
