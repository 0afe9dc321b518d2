/** A secret of the alphabet that addresses are made of; 240 bits of chance. The server keeps a digest only. */
export function newSecret() {
  const bytes = crypto.getRandomValues(new Uint8Array(30))
  return btoa(String.fromCharCode(...bytes))
    .replaceAll('+', '-')
    .replaceAll('/', '_')
}
