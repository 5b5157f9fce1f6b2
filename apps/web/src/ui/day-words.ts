const DAY = new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", month: "short" });

/** "Tue 1 Dec", and "Tue 1 Dec, 16:00" where a minute is named. `when`: 2026-12-01 or 2026-12-01T16:00, by the shop's clock. */
export function dayWords(when: string): string {
  const [day, minute] = when.split("T");
  // The hour keeps it the same day in every time zone of a shop.
  const words = DAY.format(new Date(`${day}T12:00`)).replace(",", "");
  return minute === undefined ? words : `${words}, ${minute}`;
}
