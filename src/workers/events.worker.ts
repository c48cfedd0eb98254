import { liveEvent, type LiveEvent } from '@/contract/events';

/**
 * One line to the server for all tabs of a browser: runs as a shared worker, or as a worker of one tab where there are
 * no shared ones. Whoever connects is told everything from then on, until they say 'bye'.
 */
const hearers = new Set<(event: LiveEvent) => void>();
const tell = (event: LiveEvent) => hearers.forEach((hear) => hear(event));

let wasOpen = false;
let isThere = true;
const tellLine = (now: boolean) => {
  if (now === isThere) return;
  isThere = now;
  tell({ kind: 'line', isThere });
};
function listen() {
  const source = new EventSource('/api/events');
  source.onopen = () => {
    tellLine(true);
    // After a break anything may have happened.
    if (wasOpen) tell({ kind: 'missed' });
    wasOpen = true;
  };
  source.onmessage = ({ data }) => {
    const event = liveEvent.safeParse(parsed(data));
    // What is not understood comes from another version: then anything may have happened, too.
    tell(event.success ? event.data : { kind: 'missed' });
  };
  source.onerror = () => {
    tellLine(false);
    // The browser connects again by itself, unless the server answered with a refusal.
    if (source.readyState === EventSource.CLOSED) setTimeout(listen, 3000);
  };
}

function parsed(data: string): unknown {
  try {
    return JSON.parse(data);
  } catch {
    return null;
  }
}

if ('onconnect' in self)
  self.onconnect = ({ ports: [port] }: MessageEvent) => {
    const hear = (event: LiveEvent) => port.postMessage(event);
    hearers.add(hear);
    if (!isThere) hear({ kind: 'line', isThere });
    port.onmessage = () => hearers.delete(hear);
  };
else hearers.add((event) => postMessage(event));
listen();
