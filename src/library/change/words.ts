import type { Order } from '@/contract/orders';

/** An order as the history and the list of steps say it. */
export function wordsOf(order: Order): string {
  switch (order.do) {
    case 'settle':
      return order.words;
    case 'accept':
      return order.above === null ? 'accepted' : `accepted above ${Math.round(100 * order.above)} %`;
    case 'scale':
      return order.ratio === 2
        ? 'double tempo'
        : order.ratio === 0.5
          ? 'half tempo'
          : `tempo × ${order.ratio}`;
    case 'choose':
      return `${order.source} chosen`;
    case 'tags':
      return [
        order.add.length > 0 && `tagged ${order.add.map(({ value }) => value).join(', ')}`,
        order.remove.length > 0 && `without ${order.remove.map(({ value }) => value).join(', ')}`,
      ]
        .filter(Boolean)
        .join('; ')
        .slice(0, 300);
    case 'rename':
      return 'renamed';
    case 'kind':
      return order.kind ? `set to ${order.kind}` : 'kind as measured';
    case 'write': {
      const { rating, ...texts } = order.patch;
      const rated = rating === undefined ? [] : [rating === null ? 'no rating' : `rated ${rating} of 5`];
      return (
        [...rated, ...Object.keys(texts).map((name) => `${name} changed`)].join('; ') || 'nothing changed'
      );
    }
    case 'bin':
      return 'moved to the bin';
    case 'restore':
      return 'restored from the bin';
    case 'save':
      return 'saved';
    case 'unsave':
      return 'removed from the Shelf';
    case 'prove':
      return `the click is ${order.verdict}`;
    case 'prove by figures':
      return 'proved by figures';
    case 'undo':
      return 'undone';
    case 'redo':
      return 'redone';
    case 'return':
      return 'restored an earlier state';
  }
}
