import { readdirSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import ts from 'typescript';
import { textsOf } from './texts';

/** Rooms whose strings somebody may read. */
const ROOMS = ['ui', 'app', 'words', 'library', 'contract', 'server', 'workers'];

export interface PlacedText {
  /** The folder below src/ui, or the room. */
  screen: string;
  path: string;
  line: number;
  text: string;
}

/** Every text of the interface and of the messages of the server, in the order of the sources below `root`. */
export function interfaceTexts(root = '.'): PlacedText[] {
  return ROOMS.flatMap((room) => {
    const folder = join(root, 'src', room);
    const files = readdirSync(folder, { recursive: true, withFileTypes: true })
      .filter(({ name }) => /\.tsx?$/.test(name) && !/\.test\.tsx?$/.test(name))
      .map((entry) => join(entry.parentPath, entry.name))
      .sort();
    return files.flatMap((file) => {
      const path = relative(root, file);
      const screen = room === 'ui' ? path.split('/')[2] : room;
      const source = ts.createSourceFile(path, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true);
      return textsOf(source).map((found) => ({ screen, path, ...found }));
    });
  });
}
