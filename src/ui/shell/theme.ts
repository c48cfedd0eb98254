export type Theme = 'day' | 'night';
export const THEME_COOKIE = 'grento-theme';

/** Puts a theme on the page and keeps it for the next visit. */
export function putTheme(theme: Theme) {
  document.documentElement.dataset.theme = theme;
  document.cookie = `${THEME_COOKIE}=${theme}; path=/; max-age=31536000; samesite=strict`;
  window.dispatchEvent(new Event('grento-theme'));
}
