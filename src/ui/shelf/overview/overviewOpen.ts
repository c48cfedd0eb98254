import { z } from 'zod';
import { browserStore } from '../../kit/browserStore';

/** Whether the overview stands above the list. */
export const overviewOpen = browserStore('grento-shelf-overview', z.boolean(), false);
