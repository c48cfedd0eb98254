import { test as base, type Page } from '@playwright/test';

export * from '@playwright/test';

/** Resolves when what the server has sent answers to clicks and keys: nothing a person would do comes before that. */
async function alive(page: Page) {
  const answers = () =>
    // The door's own page is none of React's.
    !document.querySelector('script[src*="/_next/"]') ||
    [...document.querySelectorAll('button')].every((button) =>
      Object.keys(button).some((name) => name.startsWith('__reactProps$')),
    );
  // A page that is led elsewhere is looked at there; one that never answers fails by what is asked of it.
  await page.waitForFunction(answers, null, { timeout: 15_000 }).catch(() => {});
}

/**
 * How long the page's orders are held back, in ms: shows which tests look at the library before it has what they do.
 * Such a test is green until a machine is busy.
 */
const LATE_MS = Number(process.env.GRENTO_LATE_MS ?? 0);

/** Pages are driven from the moment they can be. */
export const test = base.extend({
  page: async ({ page }, drive) => {
    if (LATE_MS > 0)
      await page.route('**/api/**', async (route) => {
        if (route.request().method() !== 'GET') await new Promise((resolve) => setTimeout(resolve, LATE_MS));
        await route.continue();
      });
    const [goto, reload] = [page.goto.bind(page), page.reload.bind(page)];
    page.goto = async (...asked) => {
      const answer = await goto(...asked);
      await alive(page);
      return answer;
    };
    page.reload = async (...asked) => {
      const answer = await reload(...asked);
      await alive(page);
      return answer;
    };
    await drive(page);
  },
});
