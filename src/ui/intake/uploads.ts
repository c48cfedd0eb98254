import { takenIn, type TakenIn } from '@/contract/arrivals';
import { createStore } from 'zustand/vanilla';
import { askKnown } from '../api/intake';
import { isPassing, restAfter } from '../outbox/passing';
import { NONE, summaryOf, type Upload } from './uploadSummary';

const AT_ONCE = 3;
/** How many files are asked about at a time. */
const ASKED_AT_ONCE = 500;
/** What a server says that has not noticed yet that a line is dead: so often a file is sent again, then it counts as refused. */
const BROKEN_OFF = [400, 409];
const MOST_BROKEN_OFF = 5;
/**
 * Files that the page sends in; goes on while other screens are shown. Before a file is sent the server says
 * what of it is here: all (it is not sent), or the beginning (it goes on from there).
 */
class Uploads {
  private list = new Map<number, Upload>();
  private waiting: number[] = [];
  private sending = 0;
  private files = new Map<number, File>();
  private requests = new Map<number, XMLHttpRequest>();
  /** How often the line of a file broke. */
  private brokenOff = new Map<number, number>();
  /** Files that are imported whatever lies in the bin. */
  private anew = new Set<number>();
  private nextId = 1;
  private changeTimer: ReturnType<typeof setTimeout> | null = null;
  private readonly store = createStore(() => NONE);
  /** While Grento is away nothing is sent but one file, to find out whether it is back. */
  private restUntil = 0;
  private tries = 0;
  private begun = 0;
  private sentSinceBegun = 0;

  subscribe = (listener: () => void) => this.store.subscribe(listener);

  getState = () => this.store.getState();
  static none = () => NONE;

  /** Puts files into the row. Each carries the folder that it was dropped with. */
  async add(files: readonly { file: File; folder: string }[]) {
    if (this.sending === 0 && this.waiting.length === 0) {
      this.begun = performance.now();
      this.sentSinceBegun = 0;
    }
    const ids = files.map(({ file, folder }) => {
      const id = this.nextId++;
      this.files.set(id, file);
      this.list.set(id, {
        id,
        name: file.name,
        folder,
        byteLength: file.size,
        sent: 0,
        state: 'waiting',
        message: null,
        result: null,
      });
      return id;
    });
    this.changed();
    for (let at = 0; at < ids.length; at += ASKED_AT_ONCE) {
      const some = ids.slice(at, at + ASKED_AT_ONCE);
      await this.ask(some);
      this.waiting.push(...some.filter((id) => this.list.get(id)?.state === 'waiting'));
      this.fill();
    }
  }

  cancel(id: number) {
    const upload = this.list.get(id);
    if (upload?.state !== 'waiting' && upload?.state !== 'sending') return;
    this.update(id, { state: 'cancelled', message: 'cancelled' });
    this.requests.get(id)?.abort();
  }

  cancelAll() {
    this.waiting = [];
    for (const id of this.list.keys()) this.cancel(id);
  }

  async retry(id: number) {
    if (!this.files.has(id)) return;
    this.update(id, { state: 'waiting', message: null });
    await this.ask([id]);
    if (this.list.get(id)?.state === 'waiting') this.waiting.unshift(id);
    this.fill();
  }

  /** Whether the bytes of a file are still at hand. */
  canSend(id: number): boolean {
    return this.files.has(id);
  }

  /** Takes a file in as a new sample, although one of its bytes lies in the bin. */
  async sendAnew(id: number) {
    if (!this.files.has(id)) return;
    this.anew.add(id);
    this.update(id, { state: 'waiting', result: null, sent: 0 });
    this.waiting.unshift(id);
    this.fill();
  }

  /** What lay in the bin was restored. */
  restored(id: number) {
    const result = this.list.get(id)?.result;
    if (!result) return;
    this.files.delete(id);
    const outcome = result.outcome === 'in the bin' ? 'already here' : result.outcome;
    this.update(id, { result: { ...result, outcome, inBin: null } });
  }

  /** Forgets what has ended. */
  clear() {
    for (const [id, { state }] of this.list)
      if (state !== 'waiting' && state !== 'sending') {
        this.list.delete(id);
        this.files.delete(id);
      }
    this.changed();
  }

  /** What of these files is here already. When the server does not answer they are simply sent. */
  private async ask(ids: readonly number[]) {
    const asked = ids.flatMap((id) => {
      const upload = this.list.get(id);
      return upload?.state === 'waiting' ? [upload] : [];
    });
    if (asked.length === 0) return;
    const answer = await askKnown(
      asked.map(({ id, name, folder, byteLength }) => ({
        name,
        folder,
        byteLength,
        modifiedMs: this.files.get(id)!.lastModified,
      })),
    ).catch(() => null);
    answer?.forEach(({ here, sampleId, received, refusal }, i) => {
      const { id, name, byteLength } = asked[i];
      if (this.list.get(id)?.state !== 'waiting') return;
      // Refused before a byte is sent.
      if (refusal) return this.update(id, { state: 'failed', message: refusal });
      if (!here) return this.update(id, { sent: received });
      const isBinned = here === 'bin' && sampleId !== null;
      // What lies in the bin may be wanted again.
      if (!isBinned) this.files.delete(id);
      const result: TakenIn = {
        sampleId,
        outcome: isBinned ? 'in the bin' : 'already here',
        sameAs: null,
        inBin: isBinned ? { sampleId, name } : null,
      };
      this.update(id, { state: 'done', sent: byteLength, result });
    });
  }

  private fill() {
    const rest = this.restUntil - Date.now();
    const places = this.tries > 0 ? 1 : AT_ONCE;
    while (rest <= 0 && this.sending < places && this.waiting.length > 0) {
      const id = this.waiting.shift()!;
      if (this.list.get(id)?.state === 'waiting') this.send(id);
    }
    onbeforeunload = this.sending + this.waiting.length > 0 ? (event) => event.preventDefault() : null;
  }

  /** Puts a file back to the head of the row; after a rest its sending goes on where it stopped. */
  private async again(id: number, words: string) {
    this.update(id, { message: words });
    const rest = restAfter(this.tries++);
    this.restUntil = Date.now() + rest;
    await new Promise((resolve) => setTimeout(resolve, rest));
    if (this.list.get(id)?.state !== 'waiting') return this.fill();
    await this.ask([id]);
    if (this.list.get(id)?.state === 'waiting') this.waiting.unshift(id);
    this.fill();
  }

  private send(id: number) {
    const { name, folder, sent: from } = this.list.get(id)!;
    const file = this.files.get(id)!;
    const request = new XMLHttpRequest();
    this.requests.set(id, request);
    this.sending++;
    this.update(id, { state: 'sending', message: null });
    const end = (patch: Partial<Upload>) => {
      this.requests.delete(id);
      this.sending--;
      if (this.list.get(id)?.state === 'sending') this.update(id, patch);
      this.fill();
    };
    let before = 0;
    request.upload.onprogress = ({ loaded }) => {
      this.sentSinceBegun += loaded - before;
      before = loaded;
      if (this.list.get(id)?.state === 'sending') this.update(id, { sent: from + loaded });
    };
    const wait = (words: string) => {
      void this.again(id, words);
      end({ state: 'waiting' });
    };
    request.onerror = async () => {
      // A browser says the same of a line that broke and of a file that it cannot read any more.
      if (await isReadable(file))
        return wait(`“${name}” is waiting for the server and resumes automatically.`);
      this.files.delete(id);
      end({
        state: 'failed',
        message: `“${name}” was changed or moved on disk after you selected it; select it again.`,
      });
    };
    request.onabort = () => end({ state: 'cancelled', message: 'cancelled' });
    request.onload = () => {
      const { status } = request;
      if (!isPassing(status)) this.tries = 0;
      if (status >= 200 && status < 300) {
        const result = takenIn.parse(JSON.parse(request.responseText));
        if (result.outcome !== 'in the bin') this.files.delete(id);
        return end({ state: 'done', result, sent: file.size });
      }
      const broken = (this.brokenOff.get(id) ?? 0) + 1;
      if (BROKEN_OFF.includes(status)) this.brokenOff.set(id, broken);
      const isLost = BROKEN_OFF.includes(status) && broken <= MOST_BROKEN_OFF;
      if (isPassing(status) || isLost) wait(refusalOf(request));
      else end({ state: 'failed', message: refusalOf(request) });
    };
    const place = { length: String(file.size), modified: String(file.lastModified), from: String(from) };
    const query = new URLSearchParams({ name, folder, ...place });
    if (this.anew.has(id)) query.set('anew', 'yes');
    request.open('PUT', `/api/intake?${query}`);
    request.send(from > 0 ? file.slice(from) : file);
  }

  private update(id: number, patch: Partial<Upload>) {
    const before = this.list.get(id);
    if (!before) return;
    this.list.set(id, { ...before, ...patch });
    this.changed();
  }

  private changed() {
    this.changeTimer ??= setTimeout(() => {
      this.changeTimer = null;
      const seconds = (performance.now() - this.begun) / 1000;
      this.store.setState(summaryOf([...this.list.values()], this.sentSinceBegun / seconds, seconds), true);
    }, 100);
  }
}

/** Whether a file is on disk as it was chosen. */
const isReadable = (file: File): Promise<boolean> =>
  file
    .slice(0, 1)
    .arrayBuffer()
    .then(
      () => true,
      () => false,
    );

function refusalOf(request: XMLHttpRequest): string {
  try {
    return String((JSON.parse(request.responseText) as { error: string }).error);
  } catch {
    return `The server answered ${request.status}.`;
  }
}

export const uploads = new Uploads();
export const noUploads = Uploads.none;
