import { createGlobalStyle } from "styled-components";

/**
 * Palette, type and spacing as custom properties, one set for each theme. Colour is kept for potential, suspicion and caution;
 * everything else is ink on a quiet surface with one accent.
 */
export const GlobalStyle = createGlobalStyle`
  :root {
    --sans: "Atkinson Hyperlegible Next Variable", "JetBrains Mono Variable", sans-serif;
    --mono: "JetBrains Mono Variable", monospace;
    --s1: 4px; --s2: 8px; --s3: 12px; --s4: 16px; --s5: 24px; --s6: 36px;
    --radius: 6px;
    --target: 44px;
    --rim: #8b979b; --field: #ffffff; --page: #eef0ee; --surface: #fbfcfb; --sunken: #e4e8e5;
    --ink: #12181b; --ink-2: #46535a; --line: #c3cbc8; --line-strong: #77858a;
    --accent: #0b5f5a; --on-accent: #ffffff; --accent-soft: #d5e8e4;
    --suspect: #96400a; --suspect-soft: #f7e3d3; --sound: #2f6288; --measured: #10161b;
    --caution: #6b4a00; --caution-soft: #fbedc4; --caution-line: #b98600;
    --danger: #8f1d1b; --danger-soft: #f8dedb;
    --ok: #24577d; --ok-soft: #dbe8f2;
    --focus: #0b5f5a;
    --shadow: 0 8px 28px rgb(10 20 24 / 22%);
    color-scheme: light;
  }
  :root[data-theme="dark"] {
    --rim: #a9b6b9; --field: #0e1315; --page: #12181a; --surface: #1a2124; --sunken: #0f1416;
    --ink: #eef2f0; --ink-2: #b3bfc1; --line: #36424a; --line-strong: #73838a;
    --accent: #63cfc3; --on-accent: #06211f; --accent-soft: #17403e;
    --suspect: #ffb070; --suspect-soft: #46280f; --sound: #93c2e8; --measured: #ffffff;
    --caution: #ffdf8f; --caution-soft: #3a2e0c; --caution-line: #c99a1f;
    --danger: #ffb0a8; --danger-soft: #471a18;
    --ok: #a5cdec; --ok-soft: #15303f;
    --focus: #63cfc3;
    --shadow: 0 8px 28px rgb(0 0 0 / 60%);
    color-scheme: dark;
  }
  *, *::before, *::after { box-sizing: border-box; }
  html { font-size: 16px; }
  body {
    margin: 0; background: var(--page); color: var(--ink); font-family: var(--sans); font-size: 1rem; line-height: 1.4;
    font-variant-numeric: tabular-nums; -webkit-text-size-adjust: 100%;
  }
  h1, h2, h3 { margin: 0; line-height: 1.2; font-weight: 680; }
  h1 { font-size: 1.5rem; } h2 { font-size: 1.125rem; } h3 { font-size: 1rem; }
  p { margin: 0; }
  a { color: var(--accent); }
  button, input, textarea, select { font: inherit; color: inherit; }
  :focus-visible, [data-focus-visible] { outline: 3px solid var(--focus); outline-offset: 2px; }
  kbd { font-family: var(--mono); font-size: 0.8125rem; padding: 1px 6px; border: 1px solid var(--line-strong); border-bottom-width: 2px; border-radius: 4px; background: var(--field); color: var(--ink); white-space: nowrap; }
  @media (prefers-reduced-motion: reduce) { *, *::before, *::after { animation: none !important; transition: none !important; } }
  @media print {
    :root, :root[data-theme="dark"] {
      --page: #fff; --surface: #fff; --sunken: #fff; --field: #fff; --ink: #000; --ink-2: #333; --line: #999; --line-strong: #555;
      --accent: #000; --accent-soft: #eee; --suspect: #96400a; --suspect-soft: #fff; --sound: #2f6288; --measured: #000;
      --caution: #000; --caution-soft: #fff; --caution-line: #000; --danger: #000; --danger-soft: #fff; --ok: #000; --ok-soft: #fff;
      color-scheme: light;
    }
    body { font-size: 10.5pt; }
    @page { margin: 14mm; }
  }
`;
