const files = import.meta.glob<string>('../../../../docs/guide/*.md', { query: '?raw', import: 'default', eager: true })

const pictures = import.meta.glob<string>('../../../../docs/screenshots/*.png', {
  query: '?url',
  import: 'default',
  eager: true,
})

const order = [
  ...[
    'today',
    'room',
    'hand-out',
    'check',
    'bench',
    'strings-reeds',
    'shop',
    'season',
    'supplies',
    'cards',
    'settings',
    'keys',
  ],
]

/** The chapters of the guide in docs/guide, in the order of the rail. */
export const chapters = Object.entries(files)
  .map(([path, text]) => ({
    key: path.replace(/^.*\/|\.md$/g, ''),
    title: text.slice(2, text.indexOf('\n')),
    text: text.replace(
      /\.\.\/screenshots\/[\w-]+\.png/g,
      (name) => pictures[`../../../../docs/${name.slice(3)}`] ?? name,
    ),
  }))
  .sort((a, b) => order.indexOf(a.key) - order.indexOf(b.key))

/** The chapters in which all words stand, each with the first line that has one. */
export function search(words: string) {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean)
  return chapters.flatMap((c) => {
    const text = c.text.toLowerCase()
    if (!wanted.every((w) => text.includes(w))) return []
    const line = c.text
      .split('\n')
      .slice(1)
      .filter((l) => !l.startsWith('!['))
      .find((l) => wanted.some((w) => l.toLowerCase().includes(w)))
    return [Object.assign(c, { line: line?.replace(/[*`]|^- /g, '').trim() })]
  })
}
