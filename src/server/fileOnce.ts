import { open, rm } from 'node:fs/promises';

const BLOCK = 128 * 1024;

/**
 * The bytes of a temporary file, to be read once. Its folder is removed at once: the open file is all that is left of it, and that
 * ends with the last byte, or when the reader goes away, also before the first.
 */
export async function fileOnce(path: string, folder: string): Promise<AsyncGenerator<Uint8Array>> {
  const file = await open(path);
  await rm(folder, { recursive: true, force: true });
  let isOpen = true;
  const end = async () => {
    if (isOpen) {
      isOpen = false;
      await file.close();
    }
    return { done: true as const, value: undefined };
  };
  // A generator that was never begun would not run to its `finally`.
  return {
    async next() {
      if (!isOpen) return end();
      const { bytesRead, buffer } = await file.read(Buffer.allocUnsafe(BLOCK), 0, BLOCK, null);
      return bytesRead === 0 ? end() : { done: false, value: buffer.subarray(0, bytesRead) };
    },
    return: end,
    async throw(error: unknown) {
      await end();
      throw error;
    },
    [Symbol.asyncIterator]() {
      return this;
    },
    async [Symbol.asyncDispose]() {
      await end();
    },
  } as AsyncGenerator<Uint8Array>;
}
