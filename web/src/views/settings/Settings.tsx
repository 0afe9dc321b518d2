import { useParams } from 'react-router'
import { useMay, useSettings } from '../../api/queries'
import { NotThere } from '../../shell/NotThere'
import { Pages } from '../../shell/Pages'
import { CalendarSettings } from './CalendarSettings'
import { EnsembleSettings } from './EnsembleSettings'
import { InstrumentFileSettings } from './InstrumentFileSettings'
import { LetterSettings } from './LetterSettings'
import { PeopleSettings } from './PeopleSettings'
import { PracticeSettings } from './PracticeSettings'
import { ProductSettings } from './ProductSettings'
import { RoomSettings } from './RoomSettings'
import { SchoolSettings } from './SchoolSettings'

const pages = [
  ['school', 'School'],
  ['practices', 'Schools of practice'],
  ['calendar', 'Terms and concerts'],
  ['ensembles', 'Ensembles'],
  ['letters', 'Letters'],
  ['products', 'Products'],
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
      <Pages label="Settings" base="/settings" pages={pages} />
      {error && !settings && <p role="alert">{error.message}</p>}
      {settings && !may && page !== 'instruments' && page !== 'people' && (
        <p className="quiet mt-3">Only a director changes these. You can read them.</p>
      )}
      {settings && (
        <fieldset disabled={!may} className="mt-4">
          {page === 'school' && <SchoolSettings key={settings.school.version} settings={settings} />}
          {page === 'calendar' && <CalendarSettings settings={settings} />}
          {page === 'ensembles' && <EnsembleSettings settings={settings} />}
          {page === 'letters' && <LetterSettings />}
        </fieldset>
      )}
      {page === 'practices' && (
        <div className="mt-4">
          <PracticeSettings />
        </div>
      )}
      {page === 'products' && (
        <div className="mt-4">
          <ProductSettings may={may} />
        </div>
      )}
      {page === 'rooms' && (
        <div className="mt-4">
          <RoomSettings />
        </div>
      )}
      {!pages.some(([key]) => key === page) && <NotThere back="/settings" name="Settings" />}
      {page === 'instruments' && <InstrumentFileSettings />}
      {page === 'people' && <PeopleSettings />}
    </section>
  )
}
