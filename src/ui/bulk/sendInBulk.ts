import { v4 } from 'uuid';
import {
  BULK_AT_ONCE,
  bulkResult,
  type BulkAction,
  type BulkResult,
  type StepScreen,
  type Target,
} from '@/contract/orders';
import { queueOf } from '../outbox/queues';

/**
 * Sends an order to many samples, as one step in portions: all of them are kept until they are stored, also when the page is left.
 * `drop` undoes those that are not sent yet.
 */
export function sendInBulk(
  order: BulkAction,
  targets: readonly Target[],
  screen: StepScreen,
): { sent: Promise<BulkResult>[]; drop: () => void } {
  const queue = queueOf('bulk');
  const step = v4();
  const ids: string[] = [];
  const sent: Promise<BulkResult>[] = [];
  for (let at = 0; at < targets.length; at += BULK_AT_ONCE) {
    const portion = targets.slice(at, at + BULK_AT_ONCE);
    const body = { order, targets: portion, step, screen };
    const words = `${order.do}, ${portion.length} samples`;
    const answer = queue.add({ path: '/api/bulk', body, words }).then((said) => bulkResult.parse(said));
    // Whoever waits for the first hears of it; the others are dropped with it.
    answer.catch(() => {});
    sent.push(answer);
    if (queue.lastId) ids.push(queue.lastId);
  }
  return { sent, drop: () => queue.drop(ids) };
}
