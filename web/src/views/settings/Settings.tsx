import { NavLink, useParams } from 'react-router'
import { useMay, useSettings } from '../../api/queries'
import { CalendarSettings } from './CalendarSettings'
import { EnsembleSettings } from './EnsembleSettings'
import { InstrumentFileSettings } from './InstrumentFileSettings'
import { PeopleSettings } from './PeopleSettings'
import { PracticeSettings } from './PracticeSettings'
import { RoomSettings } from './RoomSettings'
import { SchoolSettings } from './SchoolSettings'

const pages = [
  ['school', 'School'],
  ['practices', 'Schools of practice'],
  ['calendar', 'Terms and concerts'],
  ['ensembles', 'Ensembles'],
  ['rooms', 'Rooms'],
  ['instruments', 'Instruments in and out'],
  ['people', 'People'],
] as const

/** What the school decides once, so that the rest can be worked out. */
export default function Settings() {
  const { page } = useParams()
  const { data: settings, error } = useSettings()
  const may = useMay('change settings')
  return (
    <section>
      <h1>Settings</h1>
      <nav aria-label="Settings" className="line mt-2 flex flex-wrap gap-x-5">
        {pages.map(([key, name]) => (
          <NavLink
            key={key}
            to={`/settings/${key}`}
            className={({ isActive }) =>
              `-mb-px border-b-2 py-1.5 ${isActive ? 'border-primary font-bold' : 'quiet border-transparent'}`
            }
          >
            {name}
          </NavLink>
        ))}
      </nav>
      {error && !settings && <p role="alert">{error.message}</p>}
      {settings && !may && page !== 'instruments' && page !== 'people' && (
        <p className="quiet mt-3">Only a director changes these. You can read them.</p>
      )}
      {settings && (
        <fieldset disabled={!may} className="mt-4">
          {page === 'school' && <SchoolSettings key={settings.school.version} settings={settings} />}
          {page === 'calendar' && <CalendarSettings settings={settings} />}
          {page === 'ensembles' && <EnsembleSettings settings={settings} />}
        </fieldset>
      )}
      {page === 'practices' && (
        <div className="mt-4">
          <PracticeSettings />
        </div>
      )}
      {page === 'rooms' && (
        <div className="mt-4">
          <RoomSettings />
        </div>
      )}
      {page === 'instruments' && <InstrumentFileSettings />}
      {page === 'people' && <PeopleSettings />}
    </section>
  )
}
