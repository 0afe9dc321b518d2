/** Something secret that is shown once, to be copied. */
export function Shown({ label, value, note }: { label: string; value: string; note: string }) {
  return (
    <p className="mt-2 max-w-2xl">
      <input
        className="input input-sm w-full font-mono text-xs"
        aria-label={label}
        readOnly
        value={value}
        onFocus={(e) => e.currentTarget.select()}
      />
      <span className="text-sm">Copy it now: it is not shown again. {note}</span>
    </p>
  )
}
