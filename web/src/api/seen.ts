import { useState } from 'react'

/**
 * The version of what a form changes, as it was when somebody began to change it. Until then it follows what comes from the server; after
 * that it stays, so that a change of somebody else is noticed and not overwritten.
 */
export function useAsSeen(version: string, touched: boolean) {
  const [seen, setSeen] = useState(version)
  if (!touched && seen !== version) setSeen(version)
  return touched ? seen : version
}
