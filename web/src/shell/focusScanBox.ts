// Apart from the box, which is fetched after the page stands.

let wanted = false

/** The box's input; cmdk gives it an id of its own. */
export const scanInput = () => document.querySelector<HTMLInputElement>('[cmdk-input]')

/** Goes into the box, as soon as it is there. */
export const focusScanBox = () => {
  wanted = !scanInput()
  scanInput()?.focus()
}

/** Whether somebody wanted to go into the box before it was there. */
export const wasWanted = () => wanted
