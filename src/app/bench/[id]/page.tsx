import type { Metadata } from 'next';
import { BenchScreen } from '@/ui/bench/BenchScreen';

export const metadata: Metadata = { title: 'Bench · Grento' };

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  return <BenchScreen key={id} sampleId={id} />;
}
