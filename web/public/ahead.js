// Asks for what the page begins with while its script is still on its way. It runs before that (index.html), and src/api/ahead.ts takes each
// answer once.
{
  const ask = (path) => {
    const answer = fetch(path)
    answer.catch(() => undefined) // whoever takes it is told
    window.askedAhead.set(location.origin + path, answer)
  }
  window.askedAhead = new Map()
  ask('/api/v1/session')
  ask('/api/v1/header')
  if (location.pathname === '/') {
    const box = new URLSearchParams()
    for (const part of ['minutes', 'helpers']) {
      const kept = localStorage.getItem(`solfeggio-${part}`) // as src/api/timeBox.ts keeps it
      if (kept !== null) box.set(part, String(Number(kept)))
    }
    ask('/api/v1/first-steps')
    ask(`/api/v1/today${box.size > 0 ? `?${box}` : ''}`)
  }
}
