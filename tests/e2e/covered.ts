import type { Page } from '@playwright/test';

/** Controls that something else lies over: where the browser, asked for what is at their middle, finds neither them nor what belongs to them. */
export const coveredControls = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const controls = document.querySelectorAll<HTMLElement>(
      'button, a[href], input, select, textarea, summary, [role="tab"], [role="button"]',
    );
    const nameOf = (element: Element) =>
      `${element.tagName.toLowerCase()} “${(element.getAttribute('aria-label') ?? element.textContent ?? '').trim().slice(0, 40)}”`;
    /** Out of sight: scrolled away, or cut off by something that it lies in. */
    const isClipped = (element: HTMLElement, x: number, y: number) => {
      if (x < 0 || y < 0 || x >= innerWidth || y >= innerHeight) return true;
      for (let around = element.parentElement; around; around = around.parentElement) {
        const { overflowX, overflowY } = getComputedStyle(around);
        if (overflowX === 'visible' && overflowY === 'visible') continue;
        const box = around.getBoundingClientRect();
        if (x < box.left || x > box.right || y < box.top || y > box.bottom) return true;
      }
      return false;
    };
    return [...controls].flatMap((control) => {
      const box = control.getBoundingClientRect();
      const { visibility, opacity, position, clip } = getComputedStyle(control);
      const isShown = box.width > 1 && box.height > 1 && visibility !== 'hidden' && Number(opacity) > 0;
      if (!isShown || clip !== 'auto' || (position === 'absolute' && box.width < 2)) return [];
      // What a closed section holds has a box all the same.
      const closed = control.closest('details:not([open])');
      if (closed && !(control.tagName === 'SUMMARY' && control.parentElement === closed)) return [];
      const [x, y] = [box.left + box.width / 2, box.top + box.height / 2];
      if (isClipped(control, x, y)) return [];
      const there = document.elementFromPoint(x, y);
      if (!there) return [];
      const label = control.closest('label');
      const belongs = control.contains(there) || there.contains(control) || label?.contains(there);
      return belongs ? [] : [`${nameOf(control)} under ${nameOf(there)}`];
    });
  });
