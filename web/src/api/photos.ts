import { api, onceKey, take } from './client'

/** Sends a photograph of an instrument under its id; sent again, it is kept once. */
export const sendPhoto = (instrument: string, id: string, picture: Blob, portrait = false) =>
  take(
    api.POST('/api/v1/instruments/{id}/photos', {
      params: { path: { id: instrument }, query: { photo: id, portrait }, header: onceKey(id) },
      headers: { 'Content-Type': 'application/octet-stream' },
      body: picture as unknown as string,
      bodySerializer: (body) => body,
    }),
  )
