'use client';
import { useMutation, useQueryClient, type QueryKey } from '@tanstack/react-query';
import { toast } from 'sonner';

interface Action<A, R> {
  /** What it does at the server. */
  run: (argument: A) => Promise<R>;
  /** Queries that are asked again when it is done; all of them without it. */
  renews?: QueryKey;
  /** What is said when it is done; null or nothing: no word. */
  says?: (result: R, argument: A) => string | null;
  /** Takes it back; offered beside what is said. */
  undo?: (result: R, argument: A) => Promise<unknown>;
  /** What the page does when it is done. */
  then?: (result: R, argument: A) => unknown;
}

/** Tells an error once, with its own sentence. */
export const tell = (error: unknown): void => void toast.error((error as Error).message);

/**
 * An action at the server: what it changed is loaded again, what it did is said with a way back, an error is told once.
 * `act` starts it; `isBusy` while it runs.
 */
export function useAction<A = void, R = unknown>({ run, renews, says, undo, then }: Action<A, R>) {
  const queries = useQueryClient();
  const renew = () => queries.invalidateQueries(renews && { queryKey: renews });
  const { mutate, isPending } = useMutation({
    mutationFn: run,
    onError: tell,
    onSuccess: async (result, argument) => {
      then?.(result, argument);
      const words = says?.(result, argument);
      if (words)
        toast(
          words,
          undo && {
            action: { label: 'Undo', onClick: () => void undo(result, argument).then(renew).catch(tell) },
          },
        );
      await renew();
    },
  });
  return { act: mutate, isBusy: isPending };
}
