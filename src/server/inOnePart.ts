/** Bytes that are there already, as a stream. */
export async function* inOnePart(bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  yield bytes;
}
