import {
  intakeQuery,
  shelfQuery,
  type IntakeCounts,
  type SamplePage,
  type ShelfFacets,
  type ShelfQuery,
} from '@/contract/shelfQuery';
import type { Target } from '@/contract/orders';
import type { ShelfOverview } from '@/contract/overview';
import { intakeCounts, intakePage, intakeTargets } from '@/store/intakeList';
import { readOverview } from '@/store/overview';
import { shelfFacetCounts, shelfPage, shelfTargets } from '@/store/shelfList';

/** One page of the Intake for the parameters of an address. Throws ZodError for ones that are not understood. */
export async function browseIntake(params: URLSearchParams): Promise<SamplePage> {
  return intakePage(intakeQuery.parse(Object.fromEntries(params)));
}

/** The counts of the Intake's filters. */
export async function countIntake(params: URLSearchParams): Promise<IntakeCounts> {
  return intakeCounts(intakeQuery.parse(Object.fromEntries(params)));
}

/** All samples that a query of the Intake finds, in its order, each with its present revision. */
export async function browseTargets(params: URLSearchParams): Promise<Target[]> {
  return intakeTargets(intakeQuery.parse(Object.fromEntries(params)));
}

/** One page of the Shelf for the parameters of an address. Throws ZodError for ones that are not understood. */
export async function browseShelf(params: URLSearchParams): Promise<SamplePage> {
  return shelfPage(shelfQueryOf(params));
}

/** How many of what a query of the Shelf finds have each tag and kind. */
export async function countShelf(params: URLSearchParams): Promise<ShelfFacets> {
  return shelfFacetCounts(shelfQueryOf(params));
}

/** What a query of the Shelf finds, counted as a whole. */
export async function browseOverview(params: URLSearchParams): Promise<ShelfOverview> {
  return readOverview(shelfQueryOf(params));
}

/** All samples that a query of the Shelf finds, in its order, each with its present revision. */
export async function browseShelfTargets(params: URLSearchParams): Promise<Target[]> {
  return shelfTargets(shelfQueryOf(params));
}

/** A question to the Shelf out of an address. Throws ZodError for one that is not understood. */
export function shelfQueryOf(params: URLSearchParams): ShelfQuery {
  return shelfQuery.parse({ ...Object.fromEntries(params), tags: params.getAll('tags') });
}
