// Apart from the box, which is fetched after the page stands.

/** The box's input; cmdk gives it an id of its own. */
export const scanInput = () => document.querySelector<HTMLInputElement>('[cmdk-input]')

export const focusScanBox = () => scanInput()?.focus()
