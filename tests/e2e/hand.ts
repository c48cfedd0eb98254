import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, type Locator, type Page } from './alive';

/** A way through a task, as it is counted: each click, key, drag, typed value and choice is one gesture. */
export class Hand {
  readonly steps: string[] = [];

  constructor(private readonly page: Page) {}

  get count(): number {
    return this.steps.length;
  }

  async press(key: string, does: string) {
    this.note(`${key.replace('Control', 'Ctrl').replaceAll('+', ' + ')} (${does})`);
    await this.page.keyboard.press(key);
  }

  async click(target: Locator, words: string) {
    this.note(`click ${words}`);
    await target.click();
  }

  /** Types where the keyboard is. */
  async type(text: string) {
    this.note(`type “${text}”`);
    await this.page.keyboard.type(text);
  }

  async choose(input: Locator, file: { name: string; mimeType: string; buffer: Buffer }) {
    this.note(`import ${file.name}`);
    await input.setInputFiles([file]);
  }

  async drag(from: { x: number; y: number }, to: { x: number; y: number }, words: string) {
    this.note(`drag ${words}`);
    await this.page.mouse.move(from.x, from.y);
    await this.page.keyboard.down('Shift');
    await this.page.mouse.down();
    await this.page.mouse.move((from.x + to.x) / 2, to.y, { steps: 4 });
    await this.page.mouse.move(to.x, to.y, { steps: 4 });
    await this.page.mouse.up();
    await this.page.keyboard.up('Shift');
  }

  /** Taps at these times, ms from now; in the page itself, so that they are as even as a busy machine allows. */
  async tap(times: readonly number[]) {
    this.steps.push(...times.map(() => 't (tap)'));
    await this.page.evaluate(async (due) => {
      const began = performance.now();
      for (const time of due) {
        while (performance.now() < began + time) await new Promise((next) => setTimeout(next, 1));
        const press = new KeyboardEvent('keydown', { key: 't', code: 'KeyT', bubbles: true });
        // A key says when it was pressed, however late a busy page hears of it.
        Object.defineProperty(press, 'timeStamp', { value: began + time });
        document.body.dispatchEvent(press);
      }
    }, times);
  }

  private note(step: string) {
    this.steps.push(step);
  }
}

export interface Walked {
  number: number;
  task: string;
  /** So many gestures are allowed. */
  most: number;
  steps: readonly string[];
}

const DOCUMENT = join('docs', 'gestures.md');
const [BEGIN, END] = ['<!-- walked -->', '<!-- end -->'];

/** Steps in words: the same one after the other is said once. */
function stepWords(steps: readonly string[]): string {
  const words: string[] = [];
  for (let i = 0, n = 1; i < steps.length; i += n) {
    for (n = 1; steps[i + n] === steps[i]; n++);
    words.push(n > 1 ? `${n} × ${steps[i]}` : steps[i]);
  }
  return words.join(', ');
}

/** Holds what was walked against docs/gestures.md; with GRENTO_KEEP_GESTURES it is written there. */
export function holdAgainstDocument(all: readonly Walked[]) {
  const table = [
    '| # | task | gestures | at most | steps |',
    '|---|---|---|---|---|',
    ...all
      .toSorted((a, b) => a.number - b.number)
      .map(
        ({ number, task, most, steps }) =>
          `| ${number} | ${task} | ${steps.length} | ${most} | ${stepWords(steps)} |`,
      ),
  ].join('\n');
  const before = existsSync(DOCUMENT) ? readFileSync(DOCUMENT, 'utf8') : `${BEGIN}\n${END}\n`;
  const [head, rest] = before.split(BEGIN);
  const [, foot] = rest.split(END);
  const now = `${head}${BEGIN}\n\n${table}\n\n${END}${foot}`;
  if (process.env.GRENTO_KEEP_GESTURES) writeFileSync(DOCUMENT, now);
  else
    expect(before.replace(/\|[-| ]+\|/g, '').replace(/ +/g, ' ')).toBe(
      now.replace(/\|[-| ]+\|/g, '').replace(/ +/g, ' '),
    );
}
