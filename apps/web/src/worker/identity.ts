const numbers = new WeakMap<object, number>();
let last = 0;

/** A number for an object, the same as long as it is the same object: for keys that part what belongs to one value from the next. */
export function identityOf(value: object | undefined): number {
  if (value === undefined) return 0;
  const known = numbers.get(value);
  if (known !== undefined) return known;
  numbers.set(value, ++last);
  return last;
}
