import type { Metadata } from 'next';
import { cookies, headers } from 'next/headers';
import type { ReactNode } from 'react';
import { Shell } from '@/ui/shell/Shell';
import { THEME_COOKIE, type Theme } from '@/ui/shell/theme';
import './globals.css';

export const metadata: Metadata = {
  title: 'Grento',
  description: 'Measure, check, tag and reuse samples',
};

export default async function Layout({ children }: { children: ReactNode }) {
  // Reading the request makes every page carry its own nonce.
  await headers();
  const theme: Theme = (await cookies()).get(THEME_COOKIE)?.value === 'night' ? 'night' : 'day';
  return (
    <html lang="en" data-theme={theme}>
      <body>
        <Shell theme={theme}>{children}</Shell>
      </body>
    </html>
  );
}
