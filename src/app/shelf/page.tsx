import type { Metadata } from 'next';
import { z } from 'zod';
import { ShelfScreen } from '@/ui/shelf/ShelfScreen';

export const metadata: Metadata = { title: 'Shelf · Grento' };

/** `like`: the sample that the list is told by likeness to, from another screen. */
export default async function Page({ searchParams }: { searchParams: Promise<{ like?: string }> }) {
  const like = z.uuid().safeParse((await searchParams).like);
  return <ShelfScreen like={like.success ? like.data : null} />;
}
