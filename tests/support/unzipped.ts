import { fromBuffer, type ZipFile } from 'yauzl';

/** All files of a ZIP archive by their paths, read by another implementation than the one that wrote it. */
export async function unzipped(bytes: Buffer): Promise<Map<string, Buffer>> {
  const zip = await new Promise<ZipFile>((resolve, reject) =>
    fromBuffer(bytes, { lazyEntries: true }, (error, opened) => (error ? reject(error) : resolve(opened))),
  );
  const files = new Map<string, Buffer>();
  await new Promise<void>((resolve, reject) => {
    zip.on('end', resolve).on('error', reject);
    zip.on('entry', (entry) =>
      zip.openReadStream(entry, (error, stream) => {
        if (error) return reject(error);
        const parts: Buffer[] = [];
        stream.on('data', (part: Buffer) => parts.push(part)).on('error', reject);
        stream.on('end', () => {
          files.set(entry.fileName, Buffer.concat(parts));
          zip.readEntry();
        });
      }),
    );
    zip.readEntry();
  });
  return files;
}
