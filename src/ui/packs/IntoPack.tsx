'use client';
import { useQuery } from '@tanstack/react-query';
import { PACKS } from '../api/packs';
import { fieldClass } from '../pieces/Field';

/** Which pack something that is made goes into: none, one that is there, or a new one. */
export type PackChoice = { into: 'none' } | { into: 'new' } | { into: 'pack'; packId: string };

/** The number of the pack that was chosen; a new one of this name is made for it. */
export async function packOfChoice(choice: PackChoice, name: string): Promise<string | null> {
  if (choice.into === 'none') return null;
  return choice.into === 'pack' ? choice.packId : (await PACKS.make({ name: name.slice(0, 120) })).id;
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
  return (
    <select
      aria-label="Into a pack"
      className={`${fieldClass} ${className ?? ''}`}
      value={value.into === 'pack' ? value.packId : value.into}
      onChange={({ target }) =>
        onChange(
          target.value === 'none' || target.value === 'new'
            ? { into: target.value }
            : { into: 'pack', packId: target.value },
        )
      }
    >
      <option value="none">into no pack</option>
      {data.map(({ packId, name }) => (
        <option key={packId} value={packId}>
          into “{name}”
        </option>
      ))}
      <option value="new">into a new pack</option>
    </select>
  );
}
