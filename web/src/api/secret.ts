/** A secret of the alphabet that addresses are made of; 240 bits of chance. The server keeps a digest only. */
export function newSecret() {
  const bytes = crypto.getRandomValues(new Uint8Array(30))
  return btoa(String.fromCharCode(...bytes))
    .replaceAll('+', '-')
    .replaceAll('/', '_')
}

const base32 = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567' // RFC 4648

/** What a telephone makes its codes of: 160 bits of chance. */
export const newFactorSecret = () =>
  Array.from(crypto.getRandomValues(new Uint8Array(32)), (byte) => base32[byte % 32]).join('')

/** Ten codes to print, of 80 bits of chance each, in letters and digits that are not taken for one another. */
export const newPaperCodes = () =>
  Array.from({ length: 10 }, () =>
    (
      Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) => base32[byte % 32])
        .join('')
        .toLowerCase()
        .match(/.{4}/g) ?? []
    ).join('-'),
  )
