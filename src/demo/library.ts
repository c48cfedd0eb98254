import { encodeAiff } from '@/core/formats/encodeAiff';
import { encodeWave } from '@/core/formats/encodeWave';
import { rehearsalPiano } from './performance';
import * as pieces from './pieces';

/** A file of the demo library: made when it is asked for, the same on every machine. */
export interface DemoFile {
  name: string;
  folder: string;
  /** What is true of it by construction; null for files that are no audio. */
  make(): { bytes: Uint8Array; truth: pieces.PieceTruth | null };
}

type Format = { as: 'wav'; bits: 16 | 24 | '32f' } | { as: 'aiff'; bits: 16 | 24 };
const WAV_16: Format = { as: 'wav', bits: 16 };

function encoded(piece: () => pieces.Piece, format: Format = WAV_16): DemoFile['make'] {
  return () => {
    const { stage, truth } = piece();
    const channels = [stage.left, stage.right];
    const bytes =
      format.as === 'aiff'
        ? encodeAiff(channels, stage.sampleRate, format.bits)
        : encodeWave(channels, stage.sampleRate, format.bits);
    return { bytes, truth };
  };
}

/** A WAV file that was torn off inside its header. */
function torn(): ReturnType<DemoFile['make']> {
  return { bytes: encodeWave([new Float32Array(2000)], 44100).slice(0, 30), truth: null };
}

const file = (name: string, make: DemoFile['make'], folder = ''): DemoFile => ({ name, folder, make });

/**
 * The library of the Pellworth Puppet Theatre: loops cut exactly and roughly, straight and swung, in 4/4,
 * 3/4 and 6/8; a song with a beatless intro and a pickup; one played without a click; five stems of a
 * piece; one-shots; a lone melody; a MIDI performance whose header says nothing; names that tell the right tempo, the double and a number that is none;
 * a duplicate and a broken file.
 */
export const DEMO_LIBRARY: readonly DemoFile[] = [
  file('Curtain Groove 96 bpm Dm.wav', encoded(pieces.curtainGroove), 'Pellworth/Loops'),
  file('Rope Walk (rough cut).wav', encoded(pieces.ropeWalk, { as: 'wav', bits: 24 }), 'Pellworth/Loops'),
  file('Stilt Waltz 138.aiff', encoded(pieces.stiltWaltz, { as: 'aiff', bits: 16 }), 'Pellworth/Loops'),
  file('Hobby Horse Jig.wav', encoded(pieces.hobbyHorseJig), 'Pellworth/Loops'),
  file('Lantern Swing.wav', encoded(pieces.lanternSwing, { as: 'wav', bits: '32f' }), 'Pellworth/Loops'),
  file('Trapdoor 164.wav', encoded(pieces.trapdoor), 'Pellworth/Loops'),
  file('Stagehand Drums Take 112.wav', encoded(pieces.stagehandDrums), 'Pellworth/Loops'),
  file('Curtain Groove (copy from Wilmot).wav', encoded(pieces.curtainGroove), 'Pellworth/Sent in'),
  file('Glass Bell.wav', encoded(pieces.glassBell), 'Pellworth/Single hits'),
  file('Wooden Hand Clack.wav', encoded(pieces.handClack), 'Pellworth/Single hits'),
  file('Parlour Drum.wav', encoded(pieces.parlourDrum), 'Pellworth/Single hits'),
  file("Marionette's Lullaby (humming).wav", encoded(pieces.lullaby), 'Pellworth/Sent in'),
  ...pieces.PARADE_STEMS.map((stem, i) =>
    file(
      `Night Parade - ${i + 1} ${stem}.wav`,
      encoded(() => pieces.nightParade(stem)),
      'Pellworth/Night Parade',
    ),
  ),
  file('The Moth and the Lantern 1923.wav', encoded(pieces.mothAndLantern), 'Pellworth/Songs'),
  file('Old Bellows, played free.wav', encoded(pieces.oldBellows), 'Pellworth/Songs'),
  file('Rehearsal Piano (understudy).mid', rehearsalPiano, 'Pellworth/Sent in'),
  file('Torn Ticket.wav', torn, 'Pellworth/Sent in'),
];
