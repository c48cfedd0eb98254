/** One name for each action and thing of the interface, and what is not said instead. */
interface Term {
  name: string;
  /** Patterns of texts that would say the same otherwise. */
  instead: readonly RegExp[];
}

const TERMS: readonly Term[] = [
  { name: 'Add', instead: [/^put in\b/i, /\bput it into\b/i, /^into the (blend|pack)$/i] },
  { name: 'Remove', instead: [/\btak(e|es|en) (it |them |\{…\} )?out\b/i] },
  { name: 'Import', instead: [/\btak(e|es|en|ing) (it |them |files )?in\b/i] },
  { name: 'Download', instead: [/\btak(e|es|en) .*\baway\b/i, /^fetch\b/i] },
  { name: 'Delete', instead: [/\bthrow(n)?\b.*\baway\b/i, /\bforget the\b/i] },
  { name: 'Undo', instead: [/\btak(e|es|en) (it |the last step )?back\b/i] },
  { name: 'Redo', instead: [/\b(do|done) (it )?again\b/i] },
  { name: 'Retry', instead: [/^(try|send|ask) again$/i] },
  { name: 'Export', instead: [/what comes out/i] },
  { name: 'Render', instead: [/^make\b/i, /\bbeing made\b/i, /^(made|making) (of|from|“)/i] },
  { name: 'Preview', instead: [/^hear it$/i] },
  { name: 'Loop', instead: [/\bgo(es)? round\b/i, /\bgoing round\b/i] },
  { name: 'Solo', instead: [/\balone$/i] },
  { name: 'Pan', instead: [/^side$/i, /level, side/i] },
  { name: 'Repeats', instead: [/^heard$/i, /heard \{…\} times/i] },
  { name: 'Pitch: keep / follow speed', instead: [/\bas a tape\b/i, /tape’s/i] },
  { name: 'Groove', instead: [/\bfeel of\b/i] },
  { name: 'Loading', instead: [/^fetching\b/i, /on its way/i] },
  { name: 'Select', instead: [/\bchoose (none|all|this row)\b/i, /^chosen$/i] },
  { name: 'Clear selection', instead: [/^no stretch/i] },
  { name: 'Needs review', instead: [/^Needs a look$/] },
  { name: 'Uncertain', instead: [/\bin doubt\b/i, /\bdoubtful\b/i] },
  { name: 'Status', instead: [/^standing$/i] },
  { name: 'Confidence', instead: [/\bsureness\b/i, /\bsurer\b/i] },
  { name: 'Duplicates', instead: [/\balike\b/i] },
  { name: 'Similar', instead: [/like this one/i, /\blikeness\b/i] },
  { name: 'Folders', instead: [/kept place/i, /keep (a|this) folder/i] },
  { name: 'Saved search', instead: [/kept search/i] },
  { name: 'Record MIDI', instead: [/\bplay(ed)? in\b/i] },
  { name: 'Access', instead: [/who may enter/i] },
  { name: 'API token', instead: [/scripts that may/i] },
  { name: 'Description', instead: [/what it says of itself/i] },
  { name: 'Steady tempo', instead: [/evened out/i] },
  { name: 'Quantize', instead: [/squared up/i, /drawn to the grid/i] },
  { name: 'Straighten', instead: [/\bupright\b/i] },
  { name: 'Resume', instead: [/^go on$/i] },
  { name: 'Original', instead: [/as it arrived\b/i] },
  { name: 'Time signature', instead: [/^meter$/i, /^meter \{…\}/i] },
  { name: 'again', instead: [/\banew\b/i] },
  { name: 'Less stretch', instead: [/^cleaner$/i] },
];

/** A text that says something otherwise than by its one name, and that name. */
export interface Refused {
  text: string;
  name: string;
}

/** Those of the texts that have another name. */
export const refusedTexts = (texts: readonly string[]): Refused[] =>
  texts.flatMap((text) =>
    TERMS.filter(({ instead }) => instead.some((pattern) => pattern.test(text))).map(({ name }) => ({
      text,
      name,
    })),
  );
