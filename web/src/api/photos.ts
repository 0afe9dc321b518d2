import { api, onceKey, take } from './client'

/** Sends a photograph of an instrument under its id; sent again, it is kept once. */
export const sendPhoto = (instrument: string, id: string, picture: Blob) =>
  take(
    api.POST('/api/v1/instruments/{id}/photos', {
      params: { path: { id: instrument }, query: { photo: id }, header: onceKey(id) },
      headers: { 'Content-Type': 'application/octet-stream' },
      body: picture as unknown as string,
      bodySerializer: (body) => body,
    }),
  )
