'use client';
import { useQuery } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { fetchDeliveries, fetchMood, fetchPack, setMood } from '../../api/deliveries';
import { Button } from '../../kit/Button';
import { sizeText } from '@/words/figures';
import { counted } from '@/words/plural';
import { Select } from '../../kit/Select';
import { Awaited } from '../../kit/States';
import { useAction } from '../../kit/useAction';

/** Packs that a delivery service offers; what ships with Grento is a simulated one, which can be made slow or unreliable. */
export function DeliveriesScreen() {
  const asked = useQuery({
    queryKey: ['deliveries'],
    queryFn: ({ signal }) => fetchDeliveries(signal),
  });
  const { data } = asked;
  const { data: mood } = useQuery({
    queryKey: ['deliveries', 'mood'],
    queryFn: ({ signal }) => fetchMood(signal),
  });
  const change = useAction({
    run: (patch: Partial<NonNullable<typeof mood>>) => setMood({ ...mood!, ...patch }),
    renews: ['deliveries', 'mood'],
  });
  const download = useAction({
    run: (packId: string) => fetchPack(packId, null),
    renews: ['tasks'],
    says: ({ files }) => `${counted(files, 'file is', 'files are')} being downloaded.`,
  });
  return (
    <div className="h-full overflow-y-auto px-4 py-3">
      <div className="mb-3 flex items-end gap-4">
        <p className="max-w-2xl flex-1 text-small text-ink-soft">
          {data ? (
            <>
              <b className="text-ink">{data.sender}</b> offers {data.packs.length} packs. This is a simulated
              service that ships with Grento; interrupted downloads resume.
            </>
          ) : (
            'Packs offered for download.'
          )}
        </p>
        {mood && (
          <>
            <Select
              label="Speed"
              place="above"
              value={mood.bytesPerSecond}
              options={[null, 2_000_000, 400_000]}
              text={(rate) => (rate === null ? 'full speed' : `${sizeText(rate)} per second`)}
              onChange={(bytesPerSecond) => change.act({ bytesPerSecond })}
            />
            <Select
              label="Drops"
              place="above"
              value={mood.breaksOff}
              options={[0, 0.3, 0.7]}
              text={(share) => (share === 0 ? 'never' : `${10 * share} times in ten`)}
              onChange={(breaksOff) => change.act({ breaksOff })}
            />
          </>
        )}
      </div>
      <Awaited of={asked} what="deliveries" />
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
                <Button className="ml-auto" tone="strong" onClick={() => download.act(packId)}>
                  <Download className="size-4" aria-hidden /> Download
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
