// The two themes: page for the day, pit for backstage. Without a choice the device decides.
export type Theme = 'page' | 'pit' | 'device'

export function chosenTheme(): Theme {
  const stored = localStorage.getItem('solfeggio-theme')
  return stored === 'page' || stored === 'pit' ? stored : 'device'
}

export function applyTheme(theme: Theme) {
  if (theme === 'device') {
    localStorage.removeItem('solfeggio-theme')
    document.documentElement.removeAttribute('data-theme')
  } else {
    localStorage.setItem('solfeggio-theme', theme)
    document.documentElement.setAttribute('data-theme', theme)
  }
}

export function toggleTheme() {
  const attribute = document.documentElement.getAttribute('data-theme')
  const dark = attribute ? attribute === 'pit' : matchMedia('(prefers-color-scheme: dark)').matches
  applyTheme(dark ? 'page' : 'pit')
}
