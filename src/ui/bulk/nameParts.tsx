'use client';
import { useState } from 'react';
import type { Tag } from '@/core/tags/facets';
import { nameFromTemplate, TEMPLATE_FIELDS } from '@/library/samples/nameTemplate';
import { joinStems } from '../api/stemSets';
import { Button } from '../kit/Button';
import { Labelled, TextField } from '../kit/Field';
import { useAction } from '../kit/useAction';
import { NamesPreview } from './NamesPreview';
import { Part } from './Part';
import type { PartProps } from './parts';

/** Renames by a template, with what becomes of the sample under the cursor. */
export function RenamePart({ targets, bulk, sample, onEnd }: PartProps) {
  const [template, setTemplate] = useState('{name}[ {bpm} bpm][ {key}]');
  const { fault } = sample
    ? nameFromTemplate(template, { ...sample, tags: sample.tags as Tag[] })
    : { fault: null };
  const fields = Object.entries(TEMPLATE_FIELDS);
  return (
    <Part
      onSubmit={() => {
        void bulk.perform({ do: 'rename', template }, targets);
        onEnd();
      }}
    >
      <Labelled label="template; put text that depends on a field in [ ]">
        <TextField
          autoFocus
          className="figures w-96"
          value={template}
          maxLength={200}
          aria-invalid={fault !== null}
          onChange={(event) => setTemplate(event.target.value)}
        />
      </Labelled>
      <div className="min-w-0 flex-1 pb-1 text-small">
        {fault ? (
          <span className="text-one">{fault}</span>
        ) : (
          <NamesPreview targets={targets} template={template} target={null} staying="same name" />
        )}
        <span
          className="block truncate text-tiny text-ink-soft"
          title={fields.map(([field, words]) => `{${field}}: ${words}`).join('\n')}
        >
          {fields.map(([field]) => `{${field}}`).join(' ')}
        </span>
      </div>
      <Button type="submit" tone="strong" disabled={fault !== null}>
        Rename
      </Button>
    </Part>
  );
}

/** Joins the selected samples as stems of one piece. */
export function JoinPart({ targets, sample, onEnd }: PartProps) {
  const [name, setName] = useState(sample?.stemSet?.name ?? sample?.folder.split('/').pop() ?? '');
  const ids = targets.map(({ sampleId }) => sampleId);
  const join = useAction({
    run: () => joinStems(ids, name),
    says: () => `“${name}”: ${ids.length} stems share start, grid and key.`,
  });
  return (
    <Part
      onSubmit={() => {
        join.act();
        onEnd();
      }}
    >
      <Labelled label="name of the piece">
        <TextField
          autoFocus
          className="w-72"
          value={name}
          maxLength={300}
          onChange={(event) => setName(event.target.value)}
        />
      </Labelled>
      <Button type="submit" tone="strong" disabled={name.trim() === ''}>
        Join {ids.length} stems
      </Button>
    </Part>
  );
}
