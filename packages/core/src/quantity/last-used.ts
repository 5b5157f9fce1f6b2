/** What stands in `map` under `key`, made where nothing does. Only the `most` last used are kept: `map` is written, in order of use. */
export function lastUsed<K, V>(map: Map<K, V>, key: K, most: number, make: () => V): V {
  const value = map.has(key) ? (map.get(key) as V) : make();
  map.delete(key);
  map.set(key, value);
  if (map.size > most) map.delete(map.keys().next().value as K);
  return value;
}
