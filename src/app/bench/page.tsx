import type { Metadata } from 'next';
import { EmptyBench } from '@/ui/bench/EmptyBench';

export const metadata: Metadata = { title: 'Bench · Grento' };

export default function Page() {
  return <EmptyBench />;
}
