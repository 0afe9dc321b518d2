import { marked } from 'marked'
import { useState } from 'react'
import { useParams, Link } from 'react-router'
import { NotThere } from '../../shell/NotThere'
import { chapters, search } from './chapters'

/** The user's guide, which ships with the program. */
export default function Help() {
  const { page } = useParams()
  const [words, setWords] = useState('')
  const found = search(words)
  const chapter = chapters.find((c) => c.key === (page ?? 'today'))
  if (!chapter) return <NotThere />
  return (
    <div className="grid gap-6 lg:grid-cols-[220px_1fr]">
      <nav aria-label="Guide">
        <input
          type="search"
          className="input input-sm w-full"
          placeholder="Find in the guide"
          aria-label="Find in the guide"
          value={words}
          onChange={(e) => setWords(e.currentTarget.value)}
        />
        <ul className="mt-2">
          {found.map((c) => (
            <li key={c.key}>
              <Link
                to={`/help/${c.key}`}
                aria-current={c === chapter ? 'page' : undefined}
                className={`block py-1 ${c === chapter ? 'font-bold' : ''}`}
              >
                {c.title}
              </Link>
              {words && c.line && <p className="quiet text-sm">{c.line}</p>}
            </li>
          ))}
        </ul>
        {found.length === 0 && <p className="quiet mt-2 text-sm">Nothing says that. Try another word.</p>}
      </nav>
      <div className="max-w-2xl">
        {/* The guide is the program's own text, built into it. */}
        <article className="guide" dangerouslySetInnerHTML={{ __html: marked.parse(chapter.text, { async: false }) }} />
        <p className="quiet mt-6 text-sm">
          Licences of what it is made of:{' '}
          <a className="link" href="/licences/server.txt">
            on the server
          </a>
          ,{' '}
          <a className="link" href="/licences/browser.txt">
            in the browser
          </a>
        </p>
      </div>
    </div>
  )
}
