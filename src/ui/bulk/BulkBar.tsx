'use client';
import { useQuery } from '@tanstack/react-query';
import { Download, X } from 'lucide-react';
import { toast } from 'sonner';
import type { SampleSummary } from '@/contract/entry';
import type { Target } from '@/contract/orders';
import { takeAway } from '../api/archives';
import { useCurators } from '../api/curators';
import { fetchBulkSteps } from '../api/intake';
import { usePutIntoPack } from '../packs/putIntoPack';
import { Button } from '../pieces/Button';
import { fieldClass } from '../pieces/Field';
import { IconButton } from '../pieces/IconButton';
import { KIND_TEXT } from '../pieces/figures';
import { AcceptPart, JoinPart, MeasurePart, RenamePart, TagsPart, WritePart } from './BulkParts';
import { RenderPart } from './RenderPart';
import type { useBulk } from './useBulk';

/** Actions that want to know more. */
export type BulkPart = 'accept' | 'measure' | 'tags' | 'rename' | 'write' | 'render' | 'join';

interface Props {
  bulk: ReturnType<typeof useBulk>;
  targets: readonly Target[];
  /** One of them, for showing what will become of it. */
  sample: SampleSummary | null;
  /** Where they were chosen: what is saved is neither accepted nor scaled any more. */
  where: 'intake' | 'bin' | 'shelf';
  part: BulkPart | null;
  onPart: (part: BulkPart | null) => void;
  onClear: () => void;
}

/** What can be done to all chosen samples at once. */
export function BulkBar({ bulk, targets, sample, where, part, onPart, onClear }: Props) {
  const { perform, run } = bulk;
  const intoPack = usePutIntoPack();
  const count = targets.length;
  const toggle = (wanted: BulkPart) => () => onPart(part === wanted ? null : wanted);
  const end = () => onPart(null);
  return (
    <section aria-label="Chosen samples" className="shrink-0 border-t border-rule-strong bg-sheet px-4 py-2">
      <div className="flex flex-wrap items-center gap-1.5">
        <span role="status" className="mr-2 text-small">
          <b className="figures">{count}</b> chosen
        </span>
        {where === 'bin' ? (
          <Button
            tone="strong"
            onClick={() => {
              void perform({ do: 'restore' }, targets);
              onClear();
            }}
          >
            Restore
          </Button>
        ) : (
          <>
            {where === 'intake' && (
              <>
                <Button tone="strong" pressed={part === 'accept'} onClick={toggle('accept')}>
                  Accept …
                </Button>
                <Button onClick={() => void perform({ do: 'scale', ratio: 0.5 }, targets)}>Half tempo</Button>
                <Button onClick={() => void perform({ do: 'scale', ratio: 2 }, targets)}>Double tempo</Button>
                <select
                  aria-label="Settle what a source says"
                  className={fieldClass}
                  value=""
                  onChange={(event) =>
                    void perform({ do: 'choose', source: event.target.value as 'file name' }, targets)
                  }
                >
                  <option value="" disabled>
                    Settle what … says
                  </option>
                  <option value="file name">the file name</option>
                  <option value="embedded tag">the embedded tag</option>
                  <option value="stem set">the stem set</option>
                  <option value="detector">the detector</option>
                </select>
              </>
            )}
            <select
              aria-label="Kind of the chosen samples"
              className={fieldClass}
              value=""
              onChange={(event) =>
                void perform(
                  {
                    do: 'kind',
                    kind: event.target.value === 'measured' ? null : (event.target.value as 'loop'),
                  },
                  targets,
                )
              }
            >
              <option value="" disabled>
                Kind …
              </option>
              {Object.entries(KIND_TEXT).map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
              <option value="measured">as measured</option>
            </select>
            {where === 'intake' && (
              <Button pressed={part === 'measure'} onClick={toggle('measure')}>
                Measure again …
              </Button>
            )}
            <Button pressed={part === 'tags'} onClick={toggle('tags')}>
              Tags …
            </Button>
            <Button pressed={part === 'rename'} onClick={toggle('rename')}>
              Rename …
            </Button>
            <Button pressed={part === 'write'} onClick={toggle('write')}>
              Rating, origin …
            </Button>
            <Button pressed={part === 'render'} onClick={toggle('render')}>
              Make at the target …
            </Button>
            <Button pressed={part === 'join'} disabled={count < 2} onClick={toggle('join')}>
              Join as stems …
            </Button>
            {where === 'shelf' && (
              <Button title="K" onClick={() => intoPack(targets.map(({ sampleId }) => sampleId))}>
                Into the pack
              </Button>
            )}
            {where === 'shelf' &&
              (['tagged', 'original'] as const).map((as) => (
                <Button
                  key={as}
                  onClick={() =>
                    void takeAway(
                      targets.map(({ sampleId }) => sampleId),
                      as,
                    ).catch((error: Error) => toast.error(error.message))
                  }
                >
                  <Download className="size-3.5" aria-hidden />
                  {as === 'tagged' ? 'Tagged copies' : 'Originals'}
                </Button>
              ))}
            <Button
              onClick={() => {
                void perform({ do: 'bin' }, targets);
                onClear();
              }}
            >
              Bin
            </Button>
          </>
        )}
        <span className="ml-auto" />
        <LastStep bulk={bulk} />
        <IconButton
          label="Choose none"
          onClick={() => {
            end();
            onClear();
          }}
        >
          <X />
        </IconButton>
      </div>
      {run && (
        <div className="mt-2 flex items-center gap-3 text-small">
          <progress className="h-1.5 flex-1" max={run.of} value={run.done} aria-label="Done" />
          <span role="status" className="figures">
            {run.done} of {run.of}
          </span>
          <Button onClick={bulk.stop}>Stop</Button>
        </div>
      )}
      {part === 'accept' && <AcceptPart targets={targets} bulk={bulk} onEnd={end} />}
      {part === 'measure' && <MeasurePart targets={targets} bulk={bulk} onEnd={end} />}
      {part === 'tags' && <TagsPart targets={targets} bulk={bulk} onEnd={end} />}
      {part === 'rename' && <RenamePart targets={targets} bulk={bulk} sample={sample} onEnd={end} />}
      {part === 'write' && <WritePart targets={targets} bulk={bulk} onEnd={end} />}
      {part === 'render' && <RenderPart targets={targets} sample={sample} onEnd={end} />}
      {part === 'join' && <JoinPart targets={targets} sample={sample} onEnd={end} />}
    </section>
  );
}

function LastStep({ bulk }: { bulk: Props['bulk'] }) {
  const { curators, me } = useCurators();
  const { data } = useQuery({
    queryKey: ['steps'],
    queryFn: ({ signal }) => fetchBulkSteps(signal),
  });
  if (!data?.undo) return null;
  const { stepId, words, madeBy } = data.undo;
  const isMine = curators.length < 2 || madeBy === null || madeBy === me?.name;
  return (
    <Button onClick={() => void bulk.undo(stepId)}>
      Take back: {words}
      {!isMine && ` (${madeBy})`}
    </Button>
  );
}
