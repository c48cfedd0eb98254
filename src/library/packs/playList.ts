import { stemAndEnding } from '@/core/formats/endings';

/** Files one after the other, as players read them (extended M3U in UTF-8); performances are no audio and left out. */
export function playList(
  title: string,
  files: readonly { path: string; seconds: number | null | undefined }[],
): string {
  const lines = ['#EXTM3U', `#PLAYLIST:${title}`];
  for (const { path, seconds } of files) {
    if (path.endsWith('.mid')) continue;
    const [name] = stemAndEnding(path.split('/').pop()!);
    lines.push(`#EXTINF:${Math.round(seconds ?? -1)},${name}`, path);
  }
  return `${lines.join('\n')}\n`;
}
