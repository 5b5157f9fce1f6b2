/** Writes to the browser's storage. False when it is full or shut off: the value then lives only as long as the page. */
export function keepItem(key: string, value: string): boolean {
  try {
    localStorage.setItem(key, value);
    return true;
  } catch {
    return false;
  }
}
