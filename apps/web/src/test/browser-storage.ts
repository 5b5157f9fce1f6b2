/** The browser's storage for tests under Node.js, with a limit in characters like the real one. */
export class MemoryStorage implements Storage {
  readonly #items = new Map<string, string>();
  limit = Number.POSITIVE_INFINITY;

  get length(): number {
    return this.#items.size;
  }
  key(index: number): string | null {
    return [...this.#items.keys()][index] ?? null;
  }
  getItem(key: string): string | null {
    return this.#items.get(key) ?? null;
  }
  setItem(key: string, value: string): void {
    const used = [...this.#items].reduce((sum, [k, v]) => sum + (k === key ? 0 : k.length + v.length), 0);
    if (used + key.length + value.length > this.limit) throw new DOMException("full", "QuotaExceededError");
    this.#items.set(key, value);
  }
  removeItem(key: string): void {
    this.#items.delete(key);
  }
  clear(): void {
    this.#items.clear();
  }
}

const storage = new MemoryStorage();

/** Puts the storage in place of the browser's, one for all tests of a run. Call before importing what reads it. */
export function freshStorage(): MemoryStorage {
  Object.defineProperty(globalThis, "localStorage", { value: storage, configurable: true });
  storage.clear();
  return storage;
}
