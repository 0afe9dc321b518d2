// What a school chooses from instead of typing codes. The browser knows the names.

/** Countries' ways of writing dates and numbers; a school's own stands among them whatever it is. */
const locales = [
  ...['en-GB', 'en-US', 'en-CA', 'en-AU', 'en-IE', 'en-NZ', 'en-ZA', 'en-IN', 'de-DE', 'de-AT', 'de-CH', 'fr-FR'],
  ...['fr-CA', 'fr-CH', 'es-ES', 'es-MX', 'it-IT', 'pt-PT', 'pt-BR', 'nl-NL', 'da-DK', 'sv-SE', 'nb-NO', 'fi-FI'],
  ...['pl-PL', 'cs-CZ', 'hu-HU', 'el-GR', 'tr-TR', 'ja-JP', 'ko-KR'],
]

export type Choice = { key: string; name: string }

const withOwn = (keys: string[], own: string) => (own === '' || keys.includes(own) ? keys : [own, ...keys])

const byName = (list: Choice[]) => list.sort((a, b) => a.name.localeCompare(b.name))

/** "English (United Kingdom), 24/11/2026". */
export function localesWith(own: string): Choice[] {
  const names = new Intl.DisplayNames('en', { type: 'language' })
  return byName(
    withOwn(locales, own).map((key) => ({
      key,
      name: `${names.of(key) ?? key}, ${new Date(2026, 10, 24).toLocaleDateString(key)}`,
    })),
  )
}

/** "Euro, EUR". */
export function currenciesWith(own: string): Choice[] {
  const names = new Intl.DisplayNames('en', { type: 'currency' })
  return byName(
    withOwn(Intl.supportedValuesOf('currency'), own).map((key) => ({ key, name: `${names.of(key) ?? key}, ${key}` })),
  )
}

/** "Europe, Vienna". */
export function timeZonesWith(own: string): Choice[] {
  return withOwn(['UTC', ...Intl.supportedValuesOf('timeZone')], own).map((key) => ({
    key,
    name: key.replaceAll('_', ' ').replaceAll('/', ', '),
  }))
}
