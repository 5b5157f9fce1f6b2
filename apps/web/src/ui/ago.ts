import { intlFormatDistance } from "date-fns/intlFormatDistance";

/** "12 minutes ago"; a dash for no moment. By the browser's own words, so that no language comes along with the first screen. */
export const ago = (iso: string): string =>
  iso === "" ? "–" : intlFormatDistance(new Date(iso), new Date(), { locale: "en-GB", numeric: "always" });
