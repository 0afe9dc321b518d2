type Props = { error: Error | null; busy: boolean; name: string; onClose: () => void }

/** How a small form ends: what went wrong, the deed, and the way out. */
export function FormEnd({ error, busy, name, onClose }: Props) {
  return (
    <div className="col-span-full mt-3">
      {error && (
        <p role="alert" className="mb-2 text-error">
          {error.message}
        </p>
      )}
      <button className="btn btn-primary btn-sm mr-2" disabled={busy}>
        {name}
      </button>
      <button type="button" className="btn btn-sm" onClick={onClose}>
        Close
      </button>
    </div>
  )
}
