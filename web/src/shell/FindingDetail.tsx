import { Camera } from 'lucide-react'
import { useRef, useState } from 'react'

const largestPhoto = 12 * 1024 * 1024

export type FoundDetail = { code: string; note: string; photos: string[]; avoidable: boolean }

type Props = {
  name: string
  finding: FoundDetail
  /** Keeps a photograph and answers with its id. */
  keepPhoto: (picture: File) => Promise<string>
  onChange: (finding: FoundDetail) => void
}

/** A word about a finding, whether it could have been avoided, and photographs of it. */
export function FindingDetail({ name, finding, keepPhoto, onChange }: Props) {
  return (
    <div className="mt-3 rounded-lg bg-base-200 p-3">
      <label className="block text-sm">
        <b>{name}</b>: a word about it
        <input
          className="input mt-1 w-full"
          value={finding.note}
          maxLength={2000}
          onChange={(e) => onChange({ ...finding, note: e.currentTarget.value })}
        />
      </label>
      <label className="mt-2 flex cursor-pointer items-center gap-2 text-sm">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={finding.avoidable}
          onChange={(e) => onChange({ ...finding, avoidable: e.currentTarget.checked })}
        />
        Handling or missed cleaning brought it about
      </label>
      <Photographs
        label={`Photograph of ${name}`}
        photos={finding.photos}
        keepPhoto={keepPhoto}
        onChange={(photos) => onChange({ ...finding, photos })}
      />
    </div>
  )
}

type PhotoProps = Pick<Props, 'keepPhoto'> & { label: string; photos: string[]; onChange: (photos: string[]) => void }

/** Takes photographs and says how many are kept. */
export function Photographs({ label, photos, keepPhoto, onChange }: PhotoProps) {
  const file = useRef<HTMLInputElement>(null)
  const [wrong, setWrong] = useState('')
  const add = async (picture: File | undefined) => {
    if (!picture) return
    if (picture.size > largestPhoto) {
      setWrong('This photograph has more than 12 MB. Take a smaller one; nothing else is lost.')
      return
    }
    try {
      onChange([...photos, await keepPhoto(picture)])
      setWrong('')
    } catch (problem) {
      setWrong(problem instanceof Error ? problem.message : 'This photograph could not be kept.')
    }
  }
  return (
    <div className="mt-2">
      <div className="flex items-center gap-3">
        <button type="button" className="btn btn-sm" onClick={() => file.current?.click()}>
          <Camera size={16} aria-hidden /> Photograph
        </button>
        <input
          ref={file}
          type="file"
          accept="image/jpeg,image/png"
          className="sr-only"
          aria-label={label}
          tabIndex={-1}
          onChange={(e) => {
            void add(e.currentTarget.files?.[0])
            e.currentTarget.value = ''
          }}
        />
        {photos.length > 0 && (
          <span className="text-sm">
            {photos.length} kept{' '}
            <button type="button" className="because" onClick={() => onChange([])}>
              take away
            </button>
          </span>
        )}
      </div>
      {wrong && (
        <p role="alert" className="mt-1 text-sm text-error">
          {wrong}
        </p>
      )}
    </div>
  )
}
