import type { Schemas } from '../../api/client'
import { Drawing } from '../../drawings/Drawing'

/** A care card as it is read: what comes before, after, once a week, and never. */
export function CardFace({ card, language }: { card: Schemas['OneCard']; language: string }) {
  return (
    <article lang={language} className="rounded-box border border-base-content bg-base-100 p-4">
      <header className="flex flex-wrap items-center gap-3 sm:flex-nowrap">
        <Drawing name={card.drawing} label="" className="h-24 w-24 shrink-0" held />
        <div className="min-w-0">
          <h2 className="text-xl">{card.kind_name}</h2>
          <p className="font-bold tracking-wide">{card.tag}</p>
        </div>
        <Drawing name={`${card.drawing}-case`} label="" className="ml-auto h-20 w-28" />
      </header>
      <div className="mt-2 gap-4 sm:columns-2 text-[15px] leading-snug">
        {card.sections
          .filter((s) => s.lines.length > 0)
          .map((s) => (
            <section key={s.key} className="mb-3">
              <h3 className="border-b border-base-300 font-bold">{s.title}</h3>
              {s.key === 'before' || s.key === 'after' ? (
                <ol className="list-decimal pl-6">
                  {s.lines.map((l) => (
                    <li key={l.text} className="break-inside-avoid">
                      {l.text}
                    </li>
                  ))}
                </ol>
              ) : (
                <ul className={s.key === 'never' ? "list-['✕__'] pl-5" : 'list-disc pl-5'}>
                  {s.lines.map((l) => (
                    <li key={l.text} className="break-inside-avoid">
                      {l.text}
                    </li>
                  ))}
                </ul>
              )}
            </section>
          ))}
      </div>
    </article>
  )
}
