import { StretchJobs, type FromFitter, type ToFitter } from '@/core/recipes/jobs';
import { DecoderStandIn } from './decoderStandIn';

/** Stands in for the browser's thread that fits: the very jobs, worked off between two turns of the test's loop. */
class FitterStandIn {
  onmessage: ((event: { data: FromFitter }) => void) | null = null;
  onerror: ((event: { message: string }) => void) | null = null;
  private readonly jobs = new StretchJobs(
    (data) => setImmediate(() => this.onmessage?.({ data })),
    (frames) => new Float32Array(frames),
    true,
  );
  private isWorking = false;

  postMessage(told: ToFitter) {
    this.jobs.tell(told);
    if (this.isWorking) return;
    this.isWorking = true;
    setImmediate(() => this.work());
  }

  private work() {
    this.isWorking = this.jobs.work();
    if (this.isWorking) setImmediate(() => this.work());
  }

  terminate() {
    this.onmessage = null;
  }
}

/** Both threads of the page, by what they are started from. */
export function installThreads() {
  DecoderStandIn.install();
  const worker = function (address: string) {
    return address.includes('fit.worker') ? new FitterStandIn() : new DecoderStandIn();
  };
  Object.assign(globalThis, { Worker: worker });
}
