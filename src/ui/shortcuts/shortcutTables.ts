import { shortcuts, type Shortcut, type Shortcuts } from '../kit/shortcuts';

/**
 * Every keyboard shortcut of Grento. Handlers, tooltips, the sheet, Settings and the test for conflicts come from these
 * tables.
 */
export const EVERYWHERE = shortcuts('Everywhere', {
  sheet: ['?', 'Show keyboard shortcuts'],
});

export const LIST = shortcuts('List', {
  next: ['ArrowDown', 'Next row'],
  previous: ['ArrowUp', 'Previous row'],
  tenDown: ['PageDown', 'Ten rows down'],
  tenUp: ['PageUp', 'Ten rows up'],
  first: ['Home', 'First row'],
  last: ['End', 'Last row'],
  toggle: ['x', 'Select or deselect the row'],
  all: ['Ctrl+KeyA', 'Select all listed'],
  clear: ['Escape', 'Clear selection'],
});

export const ROW = shortcuts('Row', {
  play: ['Space', 'Play or stop'],
  open: ['Enter', 'Open on the Bench'],
  cut: ['Shift+Enter', 'Open to cut and render'],
});

export const STEPS = shortcuts('Steps', {
  undo: ['Ctrl+KeyZ', 'Undo'],
  redo: ['Ctrl+Shift+KeyZ', 'Redo'],
});

export const INTAKE = shortcuts('Intake', {
  extendDown: ['Shift+ArrowDown', 'Extend the selection down'],
  extendUp: ['Shift+ArrowUp', 'Extend the selection up'],
  withClick: ['c', 'Play with click from the one, or stop'],
  accept: ['a', 'Accept'],
  half: ['h', 'Half the tempo'],
  double: ['d', 'Double the tempo'],
  measure: ['m', 'Measure again…'],
  tags: ['t', 'Tags…'],
  rename: ['n', 'Rename by template…'],
  join: ['j', 'Join as stems…'],
  blend: ['p', 'Add to blend'],
  together: ['Shift+KeyP', 'Play together in a new blend'],
  bin: ['Delete', 'Move to bin, or restore'],
});

export const FOLDERS = shortcuts('Folders', {
  play: ['Space', 'Play the file, or stop'],
  take: ['Enter', 'Import the file'],
  takeAndCut: ['Shift+Enter', 'Import the file and open it to cut and render'],
  up: ['Backspace', 'One folder up'],
});

export const SHELF = shortcuts('Shelf', {
  keepDown: ['Shift+ArrowDown', 'Next row, keep the current one playing'],
  keepUp: ['Shift+ArrowUp', 'Previous row, keep the current one playing'],
  similar: ['l', 'Find similar'],
  originals: ['Shift+KeyD', 'Download originals'],
  tagged: ['d', 'Download tagged copies'],
  details: ['e', 'Details or search'],
  tags: ['b', 'Tags…'],
  render: ['m', 'Render at target…'],
  rename: ['n', 'Rename by template…'],
  rate1: ['1', 'Rate 1 of 5'],
  rate2: ['2', 'Rate 2 of 5'],
  rate3: ['3', 'Rate 3 of 5'],
  rate4: ['4', 'Rate 4 of 5'],
  rate5: ['5', 'Rate 5 of 5'],
  blend: ['p', 'Add to blend'],
  together: ['Shift+KeyP', 'Play together in a new blend'],
  pack: ['k', 'Add to pack'],
  choice: ['c', 'Half, double, 3 : 2 or the other transposition at the target'],
  grid: ['g', 'Grid or list'],
  overview: ['o', 'Show or hide the overview'],
});

/** On every screen that plays at the target. */
export const TARGET = shortcuts('Target', {
  onOff: ['Shift+KeyT', 'Target on / off'],
  type: ['Shift+KeyB', 'Type the target tempo'],
  fromSample: ['Shift+KeyA', 'Use this sample’s tempo and key as target'],
});

export const TARGET_STEPS = shortcuts('Target by steps', {
  faster: ['+', 'Target 1 BPM faster'],
  slower: ['-', 'Target 1 BPM slower'],
  higher: ['ArrowRight', 'Target a semitone higher'],
  lower: ['ArrowLeft', 'Target a semitone lower'],
});

export const PACK = shortcuts('Pack', {
  moveDown: ['Alt+ArrowDown', 'Move down'],
  moveUp: ['Alt+ArrowUp', 'Move up'],
  remove: ['Delete', 'Remove from the pack'],
});

export const PLAYBACK = shortcuts('Playback', {
  play: ['Space', 'Play or stop'],
  fromOne: ['Enter', 'Play from the one'],
  lastBars: ['Shift+Enter', 'Play the last four bars'],
  click: ['c', 'Click on / off'],
  clickOnly: ['KeyZ', 'Click only', 'held'],
  audioOnly: ['KeyX', 'Audio only', 'held'],
  loopLength: ['KeyR', 'Loop length: next'],
  loop: ['Shift+KeyR', 'Loop the sample’s loop, or no loop'],
  speed: ['KeyS', 'Speed: 50, 75, 100 %'],
  compare: ['KeyB', 'Switch between the compared grids'],
  beatForward: ['ArrowRight', 'Playhead one beat forward'],
  beatBack: ['ArrowLeft', 'Playhead one beat back'],
  atTarget: ['v', 'Play at target, or stop'],
});

export const GRID = shortcuts('Tempo and first downbeat', {
  tap: ['t', 'Tap the beat'],
  oneHere: ['o', 'Set the one at the playhead'],
  oneNextBeat: ['Alt+ArrowRight', 'Move the one to the next beat'],
  onePreviousBeat: ['Alt+ArrowLeft', 'Move the one to the previous beat'],
  oneNextHit: ['Alt+ArrowDown', 'Move the one to the next hit'],
  onePreviousHit: ['Alt+ArrowUp', 'Move the one to the previous hit'],
  earlier10: ['Comma', 'Move the one 10 ms earlier'],
  later10: ['Period', 'Move the one 10 ms later'],
  earlier1: ['Shift+Comma', '… 1 ms earlier'],
  later1: ['Shift+Period', '… 1 ms later'],
  earlier01: ['Alt+Comma', '… 0.1 ms earlier'],
  later01: ['Alt+Period', '… 0.1 ms later'],
  earlierSample: ['Ctrl+Comma', '… one sample earlier'],
  laterSample: ['Ctrl+Period', '… one sample later'],
  slower01: ['Minus', 'Tempo 0.1 BPM down'],
  faster01: ['Equal', 'Tempo 0.1 BPM up'],
  slower001: ['Shift+Minus', '… 0.01 BPM down'],
  faster001: ['Shift+Equal', '… 0.01 BPM up'],
  slower0001: ['Alt+Minus', '… 0.001 BPM down'],
  faster0001: ['Alt+Equal', '… 0.001 BPM up'],
  half: ['h', 'Half the tempo'],
  double: ['d', 'Double the tempo'],
  straighten: ['u', 'Straighten the fold'],
  pin: ['l', 'Pin the nearest bar line at the playhead'],
  selectFrom: ['BracketLeft', 'Start the selection at the playhead'],
  selectTo: ['BracketRight', 'End the selection at the playhead'],
  clear: ['Escape', 'Clear selection'],
});

export const VIEW = shortcuts('View', {
  fold: ['Digit1', 'Fold'],
  line: ['Digit2', 'Waveform'],
  seam: ['Digit3', 'Seam'],
  key: ['Digit4', 'Key'],
  cut: ['Digit5', 'Cut'],
  closer: ['ArrowUp', 'Zoom in; taller rows'],
  wider: ['ArrowDown', 'Zoom out; lower rows'],
  toOne: ['Home', 'Scroll to the one'],
  toEnd: ['End', 'Scroll to the end'],
  whole: ['w', 'Show the whole file'],
  tags: ['i', 'Type tags'],
  next: ['PageDown', 'Next sample in the list'],
  previous: ['PageUp', 'Previous sample in the list'],
});

export const SAVING = shortcuts('Saving', {
  save: ['Ctrl+KeyS', 'Save to Shelf'],
  blend: ['Shift+KeyP', 'Add to blend'],
  pack: ['Shift+KeyK', 'Add to pack'],
});

export const PROOF = shortcuts('Proof', {
  next: ['g', 'Go to the next place without an answer'],
  on: ['y', 'The click is on time here'],
  late: ['Shift+KeyE', '… is late'],
  early: ['KeyE', '… is early'],
  sign: ['Ctrl+Enter', 'Sign the proof'],
});

export const CUT = shortcuts('Cut', {
  preview: ['q', 'Preview the render in a loop, or stop'],
  render: ['k', 'Render'],
  download: ['Shift+KeyD', 'Render and download'],
  nextFind: ['n', 'Next find'],
  previousFind: ['p', 'Previous find'],
  select: ['j', 'Select the find'],
  nextLate: ['f', 'Next hit off the grid, worst first'],
  toGrid: ['a', 'Move that hit onto the grid, or back'],
});

/** Handled by the keyboard of the key view itself; they cannot be changed. */
export const SCALE = shortcuts('Key view', {
  scale: ['A … K', 'The scale of the key'],
  chords: ['Q … U', 'Its chords, held'],
});

export const BLEND = shortcuts('Blend', {
  play: ['Space', 'Play or stop'],
  fromStart: ['Enter', 'Play from bar 1'],
  click: ['c', 'Click on / off'],
  clickOnly: ['KeyZ', 'Click only', 'held'],
  lanesOnly: ['KeyX', 'Lanes only', 'held'],
  loop: ['r', 'Loop the blend, or play it to its end'],
  find: ['f', 'Find samples to add'],
});

export const LANES = shortcuts('Lanes', {
  next: ['ArrowDown', 'Next lane'],
  previous: ['ArrowUp', 'Previous lane'],
  moveDown: ['Shift+ArrowDown', 'Move lane down'],
  moveUp: ['Shift+ArrowUp', 'Move lane up'],
  lead: ['l', 'Set as lead'],
  mute: ['m', 'Mute'],
  solo: ['s', 'Solo'],
  remove: ['Delete', 'Remove'],
});

export const LANE = shortcuts('Selected lane', {
  higher: ['+', 'A semitone higher'],
  lower: ['-', 'A semitone lower'],
  transpose: ['t', 'Next best transposition'],
  align: ['u', 'Align its hits to the beats'],
  later1: ['Period', '1 ms later'],
  earlier1: ['Comma', '1 ms earlier'],
  later10: ['Shift+Period', '10 ms later'],
  earlier10: ['Shift+Comma', '10 ms earlier'],
  laterBeat: ['ArrowRight', 'A beat later'],
  earlierBeat: ['ArrowLeft', 'A beat earlier'],
});

export const RECORD = shortcuts('Record MIDI', {
  record: ['Space', 'Record, or stop and save'],
});

/** The tables that work together on each screen: among them no key may have two meanings. */
export const SCREENS: Readonly<Record<string, readonly Shortcuts<string>[]>> = {
  Intake: [EVERYWHERE, TARGET, LIST, ROW, STEPS, INTAKE],
  Folders: [EVERYWHERE, TARGET, LIST, FOLDERS],
  'Record MIDI': [EVERYWHERE, RECORD],
  Bench: [EVERYWHERE, TARGET, PLAYBACK, GRID, VIEW, STEPS, SAVING, PROOF, CUT],
  Shelf: [EVERYWHERE, LIST, ROW, STEPS, SHELF, TARGET, TARGET_STEPS],
  Blend: [EVERYWHERE, BLEND, LANES, LANE, STEPS],
  Pack: [EVERYWHERE, LIST, ROW, STEPS, PACK],
};

/** All tables of which keys can be changed. */
export const TABLES: readonly Shortcuts<string>[] = [...new Set(Object.values(SCREENS).flat())];

/** All commands of the screens on which this one works. */
export const besideOf = ({ id }: Shortcut): Shortcut[] =>
  Object.values(SCREENS)
    .map((tables) => tables.flatMap((table) => Object.values(table)))
    .filter((all) => all.some((one) => one.id === id))
    .flat();
