import {
  intakeQuery,
  shelfQuery,
  type IntakeCounts,
  type IntakePage,
  type ShelfPage,
} from '@/core/library/shelfQuery';
import * as samples from '@/store/samples';
import * as shelf from '@/store/shelf';

/** One page of the Intake for the parameters of an address. Throws ZodError for ones that are not understood. */
export function browseIntake(params: URLSearchParams): Promise<IntakePage> {
  return samples.intakePage(intakeQuery.parse(Object.fromEntries(params)));
}

/** The counts of the Intake's filters. */
export function countIntake(params: URLSearchParams): Promise<IntakeCounts> {
  return samples.intakeCounts(intakeQuery.parse(Object.fromEntries(params)));
}

/** The numbers of all samples that a query of the Intake finds, in its order. */
export function browseIds(params: URLSearchParams): Promise<string[]> {
  return samples.intakeIds(intakeQuery.parse(Object.fromEntries(params)));
}

/** One page of the Shelf for the parameters of an address. Throws ZodError for ones that are not understood. */
export function browseShelf(params: URLSearchParams): Promise<ShelfPage> {
  return shelf.shelfPage(shelfQuery.parse({ ...Object.fromEntries(params), tags: params.getAll('tags') }));
}
