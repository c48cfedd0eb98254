import type { Metadata } from 'next';
import { PackScreen } from '@/ui/packs/PackScreen';

export const metadata: Metadata = { title: 'Pack · Grento' };

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  return <PackScreen key={id} packId={id} />;
}
