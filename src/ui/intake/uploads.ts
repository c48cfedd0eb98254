import { takenIn, type TakenIn } from '@/core/library/entry';

/** One file on its way in. */
export interface Upload {
  id: number;
  name: string;
  folder: string;
  byteLength: number;
  sent: number;
  state: 'waiting' | 'sending' | 'done' | 'failed' | 'cancelled';
  message: string | null;
  result: TakenIn | null;
}

const AT_ONCE = 3;

/** Files that the page sends in; goes on while other screens are shown. */
class Uploads {
  private list: readonly Upload[] = [];
  private files = new Map<number, File>();
  private requests = new Map<number, XMLHttpRequest>();
  private listeners = new Set<() => void>();
  private nextId = 1;
  private changeTimer: ReturnType<typeof setTimeout> | null = null;

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  getState = () => this.list;

  /** Puts files into the row. Each carries the folder that it was dropped with. */
  add(files: readonly { file: File; folder: string }[]) {
    const added = files.map(({ file, folder }): Upload => {
      const id = this.nextId++;
      this.files.set(id, file);
      return {
        id,
        name: file.name,
        folder,
        byteLength: file.size,
        sent: 0,
        state: 'waiting',
        message: null,
        result: null,
      };
    });
    this.list = [...this.list, ...added];
    this.changed();
    this.fill();
  }

  cancel(id: number) {
    const upload = this.list.find((one) => one.id === id);
    if (upload?.state !== 'waiting' && upload?.state !== 'sending') return;
    this.update(id, { state: 'cancelled', message: 'cancelled' });
    this.requests.get(id)?.abort();
    this.fill();
  }

  retry(id: number) {
    if (!this.files.has(id)) return;
    this.update(id, { state: 'waiting', message: null, sent: 0 });
    this.fill();
  }

  /** Forgets what has ended. */
  clear() {
    this.list = this.list.filter(({ state }) => state === 'waiting' || state === 'sending');
    for (const id of this.files.keys()) if (!this.list.some((one) => one.id === id)) this.files.delete(id);
    this.changed();
  }

  private fill() {
    let sending = this.list.filter(({ state }) => state === 'sending').length;
    for (const { id, state } of this.list) {
      if (sending >= AT_ONCE) return;
      if (state !== 'waiting') continue;
      this.send(id);
      sending++;
    }
  }

  private send(id: number) {
    const { name, folder } = this.list.find((one) => one.id === id)!;
    const request = new XMLHttpRequest();
    this.requests.set(id, request);
    this.update(id, { state: 'sending' });
    const end = (patch: Partial<Upload>) => {
      this.requests.delete(id);
      if (this.list.find((one) => one.id === id)?.state === 'sending') this.update(id, patch);
      this.fill();
    };
    request.upload.onprogress = ({ loaded }) => this.update(id, { sent: loaded });
    request.onerror = () =>
      end({ state: 'failed', message: `“${name}” could not be sent: the connection broke.` });
    request.onabort = () => end({ state: 'cancelled', message: 'cancelled' });
    request.onload = () => {
      if (request.status >= 200 && request.status < 300) {
        const result = takenIn.parse(JSON.parse(request.responseText));
        end({ state: 'done', result, sent: this.files.get(id)?.size ?? 0 });
        this.files.delete(id);
      } else end({ state: 'failed', message: refusalOf(request) });
    };
    request.open('PUT', `/api/intake?${new URLSearchParams({ name, folder })}`);
    request.send(this.files.get(id));
  }

  private update(id: number, patch: Partial<Upload>) {
    this.list = this.list.map((one) => (one.id === id ? { ...one, ...patch } : one));
    this.changed();
  }

  private changed() {
    this.changeTimer ??= setTimeout(() => {
      this.changeTimer = null;
      this.listeners.forEach((listener) => listener());
    }, 50);
  }
}

function refusalOf(request: XMLHttpRequest): string {
  try {
    return String((JSON.parse(request.responseText) as { error: string }).error);
  } catch {
    return `The server answered ${request.status}.`;
  }
}

export const uploads = new Uploads();
