import { guardRequest } from './requestGuard';

const guard = (method: string, headers: Record<string, string>) => () =>
  guardRequest(method, new Headers(headers));

test('pages of this machine are answered', () => {
  expect(guard('GET', { host: '127.0.0.1:3000' })).not.toThrow();
  expect(guard('PUT', { host: 'localhost:3000', origin: 'http://localhost:3000' })).not.toThrow();
  expect(guard('POST', { host: '127.0.0.1:3000' })).not.toThrow();
});

test.each([
  ['another host name, also for reading', 'GET', { host: 'grento.example:3000' }],
  ['no host', 'GET', {}],
  ['another origin', 'POST', { host: '127.0.0.1:3000', origin: 'http://evil.example' }],
  ['another port of this machine', 'PUT', { host: '127.0.0.1:3000', origin: 'http://127.0.0.1:4000' }],
  ['a browser that hides its origin', 'DELETE', { host: '127.0.0.1:3000', origin: 'null' }],
  [
    'a cross-site request without an origin',
    'POST',
    { host: '127.0.0.1:3000', 'sec-fetch-site': 'cross-site' },
  ],
])('%s is refused', (_, method, headers) => {
  expect(guard(method, headers)).toThrow(/Grento answers|refused/);
});
