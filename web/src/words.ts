// How dates and amounts are written. The school's locale is set once when the header is known.
import { differenceInCalendarDays, parseISO } from 'date-fns'

let locale = 'en-GB'
let currency = 'EUR'

/** Said once, when the header is known. */
export function writeAs(tag: string, iso: string) {
  locale = tag
  currency = iso
}

/** An amount in the school's currency. */
export const money = (cents: number) =>
  new Intl.NumberFormat(locale, { style: 'currency', currency }).format(cents / 100)

/** The same in whole units, for what is reckoned ahead and is no bill. */
export const aboutMoney = (cents: number) =>
  new Intl.NumberFormat(locale, { style: 'currency', currency, maximumFractionDigits: 0 }).format(cents / 100)

/** Cents of an amount as it is typed, null for nothing. What is none, or a comma that may divide thousands, is NaN and refused. */
export const centsOf = (text: string) =>
  text.trim() === '' ? null : /,\d{3}\s*$/.test(text) ? NaN : Math.round(Number(text.replace(',', '.')) * 100)

/** True for what can be read as an amount; else words that say how to write one. For forms. */
export const readable = (text: string) => !Number.isNaN(centsOf(text)) || `“${text}” is no amount. Write it as 120.00.`

/** An amount to be typed over. */
export const typedCents = (cents: number | undefined) => (cents === undefined ? '' : (cents / 100).toFixed(2))

const format = (day: string, options: Intl.DateTimeFormatOptions) =>
  new Intl.DateTimeFormat(locale, { timeZone: 'UTC', ...options }).format(new Date(`${day}T00:00:00Z`))

export const longDay = (day: string) => format(day, { weekday: 'long', day: 'numeric', month: 'long' })
export const shortDay = (day: string) => format(day, { weekday: 'short', day: 'numeric' })
export const fullDay = (day: string) => format(day, { day: 'numeric', month: 'short', year: 'numeric' })
export const nearDay = (day: string) => format(day, { day: 'numeric', month: 'short' })
export const moment = (at: string) =>
  new Intl.DateTimeFormat(locale, { day: 'numeric', month: 'short', year: 'numeric' }).format(new Date(at))

/** The time of day, with the day where that is another one. */
export const clockTime = (at: string, withDay = false) =>
  new Intl.DateTimeFormat(locale, {
    ...{ hour: '2-digit', minute: '2-digit', hourCycle: 'h23' },
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
