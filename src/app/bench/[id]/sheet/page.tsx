import type { Metadata } from 'next';
import { SheetScreen } from '@/ui/sheet/SheetScreen';

export const metadata: Metadata = { title: 'Proof sheet · Grento' };

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  return <SheetScreen sampleId={id} />;
}
