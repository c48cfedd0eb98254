/** Fills `into` with a sound that loops, from a place on. */
export function arrangeLoop(channel: Float32Array, from: number, into: Float32Array) {
  const size = channel.length;
  let at = ((from % size) + size) % size;
  for (let done = 0; done < into.length; at = 0) {
    const piece = channel.subarray(at, at + into.length - done);
    into.set(piece, done);
    done += piece.length;
  }
}
