// How dates and amounts are written. The school's locale and currency are set once when the header is known.
import { differenceInCalendarDays, parseISO } from 'date-fns'

let locale = 'en-GB'
let currency = 'EUR'
let decimals = 2
let zone = 'UTC'

/** Said once, when the header is known: how many decimals the currency has is the server's to say. */
export function writeAs(tag: string, iso: string, places: number, timeZone: string) {
  locale = tag
  zone = timeZone
  currency = iso
  decimals = places
}

const amount = (cents: number, places: number) =>
  new Intl.NumberFormat(locale, {
    ...{ style: 'currency', currency, minimumFractionDigits: places, maximumFractionDigits: places },
  }).format(cents / 10 ** decimals)

/** An amount in the school's currency. "Cents" are its smallest unit everywhere. */
export const money = (cents: number) => amount(cents, decimals)

/** The same in whole units, for what is reckoned ahead and is no bill. */
export const aboutMoney = (cents: number) => amount(cents, 0)

/** An amount to be typed over. */
export const typedCents = (cents: number | undefined) =>
  cents === undefined ? '' : (cents / 10 ** decimals).toFixed(decimals)

/** The number that a bare text means where these marks divide its fraction and its thousands; null for none. */
function reading(bare: string, decimal: string, thousands: string): string | null {
  const [whole = '', fraction = '', more] = bare.split(decimal)
  if (more !== undefined || fraction.includes(thousands)) return null
  const groups = whole.replace('-', '').split(thousands)
  if (groups.length > 1 && !groups.every((g, n) => (n > 0 ? g.length === 3 : /^[1-9]\d{0,2}$/.test(g)))) return null
  return `${groups.join('')}.${fraction.replace(/0+$/, '')}`
}

function cents(number: string): number | string {
  const [whole = '', fraction = ''] = number.split('.')
  if (fraction.length > decimals)
    return decimals === 0
      ? `has a fraction, and ${currency} has none`
      : `has more than the ${String(decimals)} decimals of ${currency}`
  const n = Number(whole + fraction.padEnd(decimals, '0'))
  return n > 1e11 ? 'is more than can be kept' : n
}

/**
 * An amount as it is typed, in cents, or words that say why it is none. The same as money.Currency.Parse in Go: both are held to one table,
 * internal/core/money/testdata/amounts.json.
 */
function read(typed: string): number | string {
  let text = typed.trim().toUpperCase()
  if (text.startsWith(currency)) text = text.slice(currency.length)
  if (text.endsWith(currency)) text = text.slice(0, -currency.length)
  const bare = text.replace(/[\s'’\p{Sc}]/gu, '').replace(/[.,](-|–|--)$/, '')
  if (!/^-?[\d.,]*\d[\d.,]*$/.test(bare)) return `is no amount; write it as ${typedCents(120 * 10 ** decimals)}`
  if (bare.startsWith('-')) return 'is below zero'
  const comma = reading(bare, ',', '.')
  const point = reading(bare, '.', ',')
  if (comma === null && point === null) return `is no amount; write it as ${typedCents(120 * 10 ** decimals)}`
  if (comma === null || (decimals === 3 && point !== null && !bare.includes(','))) return cents(point ?? '')
  const one = cents(comma)
  if (point === null) return one
  const other = cents(point)
  if (typeof one === 'string') return other
  if (typeof other === 'number' && one !== other)
    return `may be ${typedCents(Math.max(one, other))} or ${typedCents(Math.min(one, other))}; write one of these`
  return one
}

/** Cents of an amount as it is typed, null for nothing, NaN for what is none or could be two. */
export function centsOf(text: string) {
  if (text.trim() === '') return null
  const got = read(text)
  return typeof got === 'string' ? NaN : got
}

/** True for what can be read as an amount; else words that say how to write one. For forms. */
export function readable(text: string) {
  const got = text.trim() === '' ? 0 : read(text)
  return typeof got === 'number' || `“${text}” ${got}.`
}

const format = (day: string, options: Intl.DateTimeFormatOptions) =>
  new Intl.DateTimeFormat(locale, { timeZone: 'UTC', ...options }).format(new Date(`${day}T00:00:00Z`))

export const longDay = (day: string) => format(day, { weekday: 'long', day: 'numeric', month: 'long' })
export const shortDay = (day: string) => format(day, { weekday: 'short', day: 'numeric' })
export const fullDay = (day: string) => format(day, { day: 'numeric', month: 'short', year: 'numeric' })
export const nearDay = (day: string) => format(day, { day: 'numeric', month: 'short' })
/** The day of a moment, where the school is. */
export const moment = (at: string) =>
  new Intl.DateTimeFormat(locale, { timeZone: zone, day: 'numeric', month: 'short', year: 'numeric' }).format(
    new Date(at),
  )

/** The time of day at the school, with the day where that is another one. */
export const clockTime = (at: string, withDay = false) =>
  new Intl.DateTimeFormat(locale, {
    ...{ timeZone: zone, hour: '2-digit', minute: '2-digit', hourCycle: 'h23' },
    ...(withDay ? { weekday: 'short', day: 'numeric', month: 'short' } : {}),
  }).format(new Date(at))

export const daysBetween = (from: string, to: string) => differenceInCalendarDays(parseISO(to), parseISO(from))

/** "in 5 days", "today", "3 weeks ago". */
export function away(days: number): string {
  if (days === 0) return 'today'
  if (days === 1) return 'tomorrow'
  if (days === -1) return 'yesterday'
  const n = Math.abs(days)
  const span =
    n < 21
      ? `${String(n)} days`
      : n < 120
        ? `${String(Math.round(n / 7))} weeks`
        : n < 730
          ? `${String(Math.round(n / 30.4))} months`
          : `${String(Math.round(n / 365))} years`
  return days > 0 ? `in ${span}` : `${span} ago`
}

export const weekdays = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']

export const number = (n: number) => n.toLocaleString(locale)
export const count = (n: number, one: string, many = `${one}s`) => `${number(n)} ${n === 1 ? one : many}`

export const longWeekday = (day: string) => format(day, { weekday: 'long' })
export const weekdayOf = (day: string) => format(day, { weekday: 'short' })

/** A name in the middle of a sentence: small, unless it begins with a note, as B-flat clarinet does. */
export const inText = (name: string) => (name[1] === '-' ? name : name.charAt(0).toLowerCase() + name.slice(1))
