"use client";

/** Light or dark; kept in a cookie so that the server draws the page right the first time. */
export function ThemeSwitch() {
  return (
    <button
      type="button"
      className="h-[30px] rounded-brick border border-transparent px-2 hover:border-lines"
      onClick={() => {
        const next = document.documentElement.dataset.theme === "dark" ? "light" : "dark";
        document.documentElement.dataset.theme = next;
        // biome-ignore lint/suspicious/noDocumentCookie: the cookie store's own API is not in every browser
        document.cookie = `umbrik-theme=${next}; path=/; max-age=31536000; samesite=lax`;
      }}
    >
      <span aria-hidden>◐</span>
      <span className="sr-only">Switch between light and dark</span>
    </button>
  );
}
