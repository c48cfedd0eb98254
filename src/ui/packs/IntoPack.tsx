'use client';
import { useQuery } from '@tanstack/react-query';
import { PACKS } from '../api/packs';
import { Select } from '../kit/Select';

/** Which pack something that is rendered goes into: none, a new one, or one that is there, by its id. */
export type PackChoice = 'none' | 'new' | (string & {});

/** The id of the pack that was chosen; a new one of this name is created for it. */
export async function packOfChoice(choice: PackChoice, name: string): Promise<string | null> {
  if (choice === 'none') return null;
  return choice === 'new' ? (await PACKS.make({ name: name.slice(0, 120) })).id : choice;
}

/** Chooses the pack that something goes into. */
export function IntoPack({
  value,
  onChange,
  className,
}: {
  value: PackChoice;
  onChange: (choice: PackChoice) => void;
  className?: string;
}) {
  const { data = [] } = useQuery({ queryKey: ['packs'], queryFn: ({ signal }) => PACKS.list(signal) });
  const names: Record<string, string> = {
    none: 'Add to pack: none',
    ...Object.fromEntries(data.map(({ packId, name }) => [packId, `Add to “${name}”`])),
    new: 'Add to a new pack',
  };
  return (
    <Select
      label="Add to pack"
      className={className}
      value={value}
      options={Object.keys(names)}
      text={names}
      onChange={onChange}
    />
  );
}
