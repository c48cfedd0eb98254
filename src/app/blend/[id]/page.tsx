import type { Metadata } from 'next';
import { BlendScreen } from '@/ui/blend/BlendScreen';

export const metadata: Metadata = { title: 'Blend · Grento' };

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  return <BlendScreen key={id} blendId={id} />;
}
