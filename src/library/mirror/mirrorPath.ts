import { stemAndEnding, withEnding } from '@/core/formats/endings';
import type { Tag } from '@/core/tags/facets';
import type { SampleSummary } from '@/contract/entry';
import { safeStem } from '../packs/fileNames';
import { nameFromTemplate } from '../samples/nameTemplate';

/**
 * Where a sample lies in a mirror: folders by a template such as "{kind}/{part}", of which those are left out that it has nothing for, and a
 * name by another. Throws Error for a template that is not understood.
 */
export function mirrorPath(row: SampleSummary, folders: string, template: string): string {
  const tags = row.tags as Tag[];
  const [stem] = stemAndEnding(row.name);
  const parts = folders.split('/').flatMap((folder) => {
    // What stands in brackets vanishes where a sample has nothing for it.
    const vanishing = folder.includes('[') ? folder : folder.replaceAll(/\{[^}]*\}/g, '[$&]');
    const { name, fault } = nameFromTemplate(vanishing, { ...row, tags, name: stem });
    if (fault && !fault.startsWith('The template gives')) throw new Error(fault);
    return fault || folder.trim() === '' ? [] : [safeStem(name)];
  });
  const { name, fault } = nameFromTemplate(template, {
    ...row,
    tags,
    name: withEnding(row.name, row.format),
  });
  if (fault) throw new Error(fault);
  const [body, ending] = stemAndEnding(name);
  return [...parts, safeStem(body) + ending].join('/');
}
