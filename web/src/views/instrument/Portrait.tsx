import { api, take, type Schemas } from '../../api/client'
import { sendPhoto } from '../../api/photos'
import { refresh, useMay } from '../../api/queries'
import { useWrite } from '../../api/write'

/** The photograph by which an instrument is known again: taken with a phone, replaced by the next one. */
export function Portrait({ file }: { file: Schemas['File'] }) {
  const { listed, portrait } = file
  const may = useMay('inspect')
  const add = useWrite({
    send: (picture: File, id) => sendPhoto(listed.id, id(), picture, true),
    onSuccess: refresh,
  })
  const drop = useWrite({
    send: (id: string) => take(api.DELETE('/api/v1/photos/{id}', { params: { path: { id } } })),
    onSuccess: refresh,
  })
  const error = add.error ?? drop.error
  if (!portrait && !may) return null
  return (
    <figure className="mt-3 text-center text-sm">
      {portrait && (
        <a href={`/api/v1/photos/${portrait}`} target="_blank" rel="noreferrer">
          <img
            src={`/api/v1/photos/${portrait}?thumbnail=true`}
            alt={`Photograph of ${listed.tag}`}
            className="mx-auto max-h-44 rounded-field border border-base-300"
          />
        </a>
      )}
      {may && (
        <figcaption className="no-print mt-1 flex justify-center gap-4">
          <label className="because cursor-pointer">
            {add.isPending ? 'sending…' : portrait ? 'another photograph' : 'add a photograph of it'}
            <input
              type="file"
              accept="image/jpeg,image/png"
              className="sr-only"
              aria-label={`Photograph of ${listed.tag}`}
              disabled={add.isPending}
              onChange={(e) => {
                const picture = e.currentTarget.files?.[0]
                if (picture) add.mutate(picture)
              }}
            />
          </label>
          {portrait && (
            <button className="because" disabled={drop.isPending} onClick={() => drop.mutate(portrait)}>
              take it away
            </button>
          )}
        </figcaption>
      )}
      {error && (
        <p role="alert" className="mt-1 text-error">
          {error.message}
        </p>
      )}
    </figure>
  )
}
