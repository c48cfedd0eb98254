/** Words of Grento's own, each explained in a sentence or two: for the glossary and for the words at their places. */
export const GLOSSARY = {
  Intake: 'Where everything arrives: imported, measured, and listed with what is uncertain first.',
  Bench: 'Where one sample is checked: against a click, by ear and by eye.',
  Shelf: 'The samples that were saved: to search, play at a target, download and reuse.',
  Blend: 'Several samples together, all at the tempo and key of the blend.',
  Packs: 'Samples with names, formats and licences, written as one download.',
  'the one': 'The first downbeat: beat 1 of bar 1. What comes before it is the pickup.',
  fold: 'A picture of the audio with bar under bar, the one at the left. Straight columns on the lines mean that the grid matches.',
  lean: 'Slanted columns in the fold: the tempo is slightly wrong. Straighten (U) sets tempo and the one from the hits.',
  seam: 'Where the end of a loop meets its beginning. A good seam cannot be heard.',
  strays: 'Single hits far from the grid while the others match it.',
  reading:
    'A value with its source and confidence: measured, from a file name or tag, from the stem set, tapped or typed.',
  'in use': 'The reading that grid, click and tags follow. Undo brings the one before back.',
  uncertain: 'A value may be wrong, and why.',
  'to do': 'Something useful waits to be done; nothing is wrong.',
  status: 'How far a sample has come: arrived, measured, proved, saved.',
  proof:
    'The recorded check against the click: places that were listened to, figures, verdict, who and when.',
  'proved by figures': 'The hits match the grid from start to end; nobody has listened.',
  'library default': 'A value for new samples of the whole library, such as the tempo range.',
  target: 'A tempo and a key that everything is played at.',
  strain: 'How much a sample is bent to reach the target: 0 not at all, above 1 it can be heard.',
  finds: 'Loops and isolated hits that Grento found in a sample.',
  parent: 'The sample that another one was rendered from. It stays unchanged.',
  recipe: 'The exact steps by which a sample was rendered from another one.',
  lead: 'The lane that gives a blend its tempo and key.',
  fitted: 'Stretched and transposed to match the lead.',
  flam: 'Hits of two lanes that should coincide but are 8 to 60 ms apart.',
  clash: 'Notes of two lanes that are a semitone apart at the same time.',
  'position in bars': 'A lane that follows tempo changes.',
  'position in seconds': 'A lane that keeps its time when the tempo changes.',
} as const satisfies Record<string, string>;

export type GlossaryTerm = keyof typeof GLOSSARY;
