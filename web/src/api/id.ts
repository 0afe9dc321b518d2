// Ids are made here, in the browser, so that what is sent twice is known again. The library also makes them on a school's own network
// without TLS, where browsers keep crypto.randomUUID to themselves.
export { v4 as newID } from 'uuid'
