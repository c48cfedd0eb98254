import { createReadStream } from 'node:fs';
import { measureStream } from '../src/core/measurement/measureStream';

for (const file of process.argv.slice(2).filter((argument) => !argument.startsWith('-'))) {
  try {
    const { audio, measurement, millisecondsSpent } = await measureStream(createReadStream(file));
    const rest: Partial<typeof measurement> = { ...measurement };
    delete rest.onsets;
    console.log(
      JSON.stringify({
        file,
        sampleRate: audio.sampleRate,
        channels: audio.channels,
        ...rest,
        millisecondsSpent,
      }),
    );
  } catch (error) {
    console.log(JSON.stringify({ file, error: error instanceof Error ? error.message : String(error) }));
    process.exitCode = 1;
  }
}
