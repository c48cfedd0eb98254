const MEGABYTE = 1024 * 1024;

/** The largest file that is imported, bytes; GRENTO_MAX_FILE_MB sets it. */
export function largestFileBytes(): number {
  const megabytes = Number(process.env.GRENTO_MAX_FILE_MB ?? 2048);
  return (megabytes > 0 ? megabytes : 2048) * MEGABYTE;
}

/** "512 MB" */
export function inMegabytes(bytes: number): string {
  return `${Math.round((bytes / MEGABYTE) * 10) / 10} MB`;
}
