import type { Metadata } from 'next';
import { PackList } from '@/ui/packs/PackList';

export const metadata: Metadata = { title: 'Packs · Grento' };

export default function Page() {
  return <PackList />;
}
