import {
  intakeQuery,
  shelfQuery,
  type IntakeCounts,
  type SamplePage,
  type ShelfFacets,
  type ShelfQuery,
} from '@/core/library/shelfQuery';
import type { Target } from '@/core/library/orders';
import * as lists from '@/store/lists';

/** One page of the Intake for the parameters of an address. Throws ZodError for ones that are not understood. */
export async function browseIntake(params: URLSearchParams): Promise<SamplePage> {
  return lists.intakePage(intakeQuery.parse(Object.fromEntries(params)));
}

/** The counts of the Intake's filters. */
export async function countIntake(params: URLSearchParams): Promise<IntakeCounts> {
  return lists.intakeCounts(intakeQuery.parse(Object.fromEntries(params)));
}

/** All samples that a query of the Intake finds, in its order, each with its present revision. */
export async function browseTargets(params: URLSearchParams): Promise<Target[]> {
  return lists.intakeTargets(intakeQuery.parse(Object.fromEntries(params)));
}

/** One page of the Shelf for the parameters of an address. Throws ZodError for ones that are not understood. */
export async function browseShelf(params: URLSearchParams): Promise<SamplePage> {
  return lists.shelfPage(shelfQueryOf(params));
}

/** How many of what a query of the Shelf finds have each tag and kind. */
export async function countShelf(params: URLSearchParams): Promise<ShelfFacets> {
  return lists.shelfFacetCounts(shelfQueryOf(params));
}

function shelfQueryOf(params: URLSearchParams): ShelfQuery {
  return shelfQuery.parse({ ...Object.fromEntries(params), tags: params.getAll('tags') });
}
