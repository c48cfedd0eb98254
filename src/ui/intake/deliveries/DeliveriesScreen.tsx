'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { toast } from 'sonner';
import { fetchDeliveries, fetchMood, fetchPack, setMood } from '../../api/deliveries';
import { Button } from '../../pieces/Button';
import { fieldClass, Labelled } from '../../pieces/Field';
import { sizeText } from '../../pieces/figures';

const complain = (error: Error) => void toast.error(error.message);

/** Packs that a delivery service offers; what ships with Grento is a simulated one, which can be made slow or unreliable. */
export function DeliveriesScreen() {
  const queries = useQueryClient();
  const { data, error, isPending } = useQuery({
    queryKey: ['deliveries'],
    queryFn: ({ signal }) => fetchDeliveries(signal),
  });
  const { data: mood } = useQuery({
    queryKey: ['deliveries', 'mood'],
    queryFn: ({ signal }) => fetchMood(signal),
  });
  const change = (patch: Partial<NonNullable<typeof mood>>) =>
    mood &&
    void setMood({ ...mood, ...patch })
      .then((now) => queries.setQueryData(['deliveries', 'mood'], now))
      .catch(complain);
  const get = (packId: string) =>
    void fetchPack(packId, null)
      .then(({ files }) => {
        toast(`${files} files are being fetched.`);
        return queries.invalidateQueries({ queryKey: ['tasks'] });
      })
      .catch(complain);
  return (
    <div className="h-full overflow-y-auto px-4 py-3">
      <div className="mb-3 flex items-end gap-4">
        <p className="max-w-2xl flex-1 text-small text-ink-soft">
          {data ? (
            <>
              <b className="text-ink">{data.sender}</b> offers {data.packs.length} packs. This service is a
              simulated one that ships with Grento; a transfer that breaks off goes on where it stopped.
            </>
          ) : (
            'What senders offer for fetching.'
          )}
        </p>
        {mood && (
          <>
            <Labelled label="Line">
              <select
                className={fieldClass}
                value={mood.bytesPerSecond ?? ''}
                onChange={(event) =>
                  change({ bytesPerSecond: event.target.value === '' ? null : Number(event.target.value) })
                }
              >
                <option value="">as fast as it can</option>
                <option value="2000000">2 MB a second</option>
                <option value="400000">400 kB a second</option>
              </select>
            </Labelled>
            <Labelled label="Breaks off">
              <select
                className={fieldClass}
                value={mood.breaksOff}
                onChange={(event) => change({ breaksOff: Number(event.target.value) })}
              >
                <option value={0}>never</option>
                <option value={0.3}>three times in ten</option>
                <option value={0.7}>seven times in ten</option>
              </select>
            </Labelled>
          </>
        )}
      </div>
      {error && <p className="text-one">{error.message}</p>}
      {isPending && <p className="text-ink-soft">Asking the service …</p>}
      <ul className="space-y-4">
        {data?.packs.map(({ packId, title, about, files }) => {
          const bytes = files.reduce((sum, { byteLength }) => sum + byteLength, 0);
          return (
            <li key={packId} className="border-t-2 border-ink pt-1.5">
              <div className="flex items-center gap-3">
                <h2 className="text-lg font-semibold">{title}</h2>
                <span className="figures text-small text-ink-soft">
                  {files.length} files, {sizeText(bytes)}
                </span>
                <Button className="ml-auto" tone="strong" onClick={() => get(packId)}>
                  <Download className="size-4" aria-hidden /> Fetch
                </Button>
              </div>
              <p className="text-small">{about}</p>
              <p className="mt-1 line-clamp-2 text-tiny text-ink-soft">
                {files.map(({ path }) => path.split('/').pop()).join(' · ')}
              </p>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
