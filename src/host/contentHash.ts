/** SHA-256 of a file's bytes in hexadecimal digits: the id of a sample. */
export async function contentHash(bytes: Uint8Array): Promise<string> {
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes.slice()));
  return [...digest].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}
