const escaped = (text: string) => text.replace(/[&<>"']/g, (letter) => `&#${letter.charCodeAt(0)};`);

/** The page that asks for the passphrase. It stands by itself: nothing else is given out before it was said. */
export const enterPage = (next: string, fault: string | null): string => `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>Enter Grento</title>
<style>
  :root { --paper: #f4efe3; --sheet: #fbf8f0; --ink: #23201a; --soft: #5c5648; --rule: #b9ad94; --one: #a32a12; }
  @media (prefers-color-scheme: dark) {
    :root { --paper: #1d1b17; --sheet: #262319; --ink: #ece5d3; --soft: #b3aa94; --rule: #5f5745; --one: #ff9a80; }
  }
  body { margin: 0; min-height: 100vh; display: grid; place-items: center; background: var(--paper); color: var(--ink);
    font: 15px/1.45 system-ui, sans-serif; }
  form { width: 20rem; background: var(--sheet); border: 1px solid var(--rule); padding: 1.5rem; display: grid; gap: .75rem; }
  h1 { margin: 0; font-size: 1.15rem; }
  label { display: grid; gap: .25rem; color: var(--soft); }
  input, button { font: inherit; color: var(--ink); background: var(--paper); border: 1px solid var(--rule); padding: .4rem .6rem; }
  :focus-visible { outline: 2px solid var(--ink); outline-offset: 2px; }
  p { margin: 0; color: var(--one); }
</style>
</head>
<body>
<form method="post" action="/enter?${escaped(new URLSearchParams({ next }).toString())}">
  <h1>Grento</h1>
  ${fault ? `<p role="alert">${escaped(fault)}</p>` : ''}
  <label>Passphrase <input type="password" name="passphrase" autocomplete="current-password" autofocus required></label>
  <button type="submit">Enter</button>
</form>
</body>
</html>
`;
