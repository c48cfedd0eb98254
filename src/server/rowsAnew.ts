import { transaction } from '@/store/database';
import { rowsOfOlderRules } from '@/store/settled';
import { changeInside } from './change';

/** So many at once: others who change the same samples wait for that long. */
const AT_ONCE = 50;

/**
 * Says the rows again that older rules wrote, so that an update reaches what was measured before it: for minutes, in a large
 * library, so that screens are not asked to look each time. Returns how many were, ends early when `stopped`.
 */
export async function sayRowsAnew(stopped: () => boolean = () => false): Promise<number> {
  let said = 0;
  while (!stopped()) {
    const sampleIds = await rowsOfOlderRules(AT_ONCE);
    if (sampleIds.length === 0) break;
    await transaction((client) => changeInside(client, { do: 'renew', quietly: true }, sampleIds, null));
    said += sampleIds.length;
  }
  return said;
}
