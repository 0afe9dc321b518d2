import { Command } from 'cmdk'
import { useEffect, useState } from 'react'
import { useNavigate } from 'react-router'
import { useInstruments } from '../api/queries'
import { Mark } from '../marks/Mark'
import { focusScanBox, scanInput, wasWanted } from './focusScanBox'
import { useSignOut, views } from './Rail'
import { toggleTheme } from './theme'

const shown = 8

/** One box for a scanned tag, a typed name and a command. */
export default function ScanBox({ onLegend }: { onLegend: () => void }) {
  const navigate = useNavigate()
  const signOut = useSignOut()
  const { data: instruments = [] } = useInstruments()
  const [text, setText] = useState('')
  const [open, setOpen] = useState(false)
  useEffect(() => {
    if (wasWanted()) focusScanBox()
  }, [])

  const wanted = text.trim().toLowerCase()
  const words = wanted.split(/\s+/)
  const found = wanted
    ? instruments
        .filter((i) => {
          const all = [i.tag, i.kind_name, i.maker, i.model, i.serial, i.holder, i.room, i.slot, ...i.ensembles]
          return words.every((w) => all.some((text) => text.toLowerCase().includes(w)))
        })
        .sort((a, b) => Number(b.tag.toLowerCase().startsWith(wanted)) - Number(a.tag.toLowerCase().startsWith(wanted)))
        .slice(0, shown)
    : []
  const commands = [
    ...views.map((v) => ({
      name: `Go to ${v.name}`,
      run: () => {
        void navigate(v.path)
      },
    })),
    { name: 'Add an instrument', run: () => void navigate('/room/add') },
    { name: 'Ready for the concert', run: () => void navigate('/season/readiness') },
    {
      name: 'Import or export instruments',
      run: () => {
        void navigate('/settings/instruments')
      },
    },
    {
      name: 'Change your password',
      run: () => {
        void navigate('/settings/people')
      },
    },
    { name: 'Marks and keys', run: onLegend },
    { name: 'Change between light and dark', run: toggleTheme },
    { name: 'Sign out', run: () => signOut() },
  ].filter((c) => words.every((w) => c.name.toLowerCase().includes(w)))

  const choose = (run: () => void) => () => {
    setText('')
    setOpen(false)
    scanInput()?.blur()
    run()
  }

  return (
    <Command shouldFilter={false} loop className="relative w-full md:w-[380px]" label="Scan or type">
      <div className="flex h-[34px] items-center rounded-md border border-base-300 px-2.5 focus-within:outline-2 focus-within:outline-primary">
        <Command.Input
          value={text}
          onValueChange={(v) => {
            setText(v.replace(/^\//, '')) // the key that led here
            setOpen(true)
          }}
          onFocus={() => setOpen(true)}
          onBlur={() => setTimeout(() => setOpen(false), 150)}
          onKeyDown={(e) => {
            if (e.key !== 'Escape') return
            setText('')
            e.currentTarget.blur()
          }}
          placeholder="Scan a tag or type a name, number, command"
          aria-label="Scan a tag or type a name, number, command"
          className="w-full bg-transparent text-sm outline-none placeholder:text-secondary"
        />
        <kbd className="quiet hidden rounded border border-base-300 px-1.5 text-xs md:block">/</kbd>
      </div>
      <Command.List
        className={
          open ? 'absolute inset-x-0 top-10 z-40 rounded-md border border-base-content bg-base-100 p-1' : 'sr-only'
        }
      >
        {open && found.length === 0 && commands.length === 0 && (
          <p className="quiet p-2 text-sm">Nothing is called “{text}”.</p>
        )}
        {open &&
          found.map((i) => (
            <Command.Item
              key={i.id}
              value={i.id}
              onSelect={choose(() => void navigate(`/instruments/${i.id}`))}
              className="flex cursor-pointer items-center gap-2 rounded px-2 py-0.5 data-[selected=true]:bg-base-200"
            >
              <Mark name={i.mark} />
              <b>{i.tag}</b>
              <span>
                {i.kind_name} {i.size}
              </span>
              <span className="quiet ml-auto text-sm">{[i.holder, i.slot].filter(Boolean).join(', ')}</span>
            </Command.Item>
          ))}
        {open &&
          commands.map((c) => (
            <Command.Item
              key={c.name}
              value={c.name}
              onSelect={choose(c.run)}
              className="cursor-pointer rounded px-2 py-1 data-[selected=true]:bg-base-200"
            >
              {c.name}
            </Command.Item>
          ))}
      </Command.List>
    </Command>
  )
}
