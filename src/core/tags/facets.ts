/** Grento's facets: closed lists, and five-step scales that the measurement proposes. */
export const FACETS = {
  part: ['drums', 'percussion', 'bass', 'chords', 'lead', 'voice', 'pad', 'effect', 'full mix'],
  'made by': ['struck', 'plucked', 'bowed', 'blown', 'sung', 'electronic'],
  motion: ['still', 'calm', 'moving', 'lively', 'busy'],
  colour: ['dark', 'warm', 'even', 'clear', 'bright'],
  grain: ['smooth', 'fine', 'grainy', 'coarse', 'rough'],
  room: ['close', 'near', 'roomy', 'wide', 'far'],
  feel: ['straight', 'leaning', 'loping', 'swung', 'hard swung'],
} as const;

export type Facet = keyof typeof FACETS;
export const FACET_NAMES = Object.keys(FACETS) as Facet[];
/** The facets whose values are steps of a scale. */
export const SCALES: readonly Facet[] = ['motion', 'colour', 'grain', 'room', 'feel'];

/** Tags of one sample: one value per scale, any number elsewhere, and free words under `word`. */
export interface Tag {
  facet: Facet | 'word';
  value: string;
}

export function isKnownTag({ facet, value }: Tag): boolean {
  if (facet === 'word') return value.trim().length > 0 && value.length <= 40;
  return (FACETS[facet] as readonly string[] | undefined)?.includes(value) ?? false;
}
