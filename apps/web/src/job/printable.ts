const UNPRINTABLE = /[\u0000-\u0008\u000B\u000C\u000E-\u001F\u007F-\u009F\uFFFE\uFFFF]/g;
const LONE = /[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/g;

/** The same with every text made printable: what comes along when text is pasted (NUL, controls, half a character) says nothing and is left out. */
export function printable<T>(value: T): T {
  if (typeof value === "string") return value.replace(UNPRINTABLE, "").replace(LONE, "") as T;
  if (Array.isArray(value)) return value.map((item: unknown) => printable(item)) as T;
  if (typeof value !== "object" || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([key, item]) => [key, printable(item)])) as T;
}
