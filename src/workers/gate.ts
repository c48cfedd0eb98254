/** What the web server asks before it lets a request in; a bundle of its own, outside of the pages. */
export { createGate } from '@/server/access/gate';
