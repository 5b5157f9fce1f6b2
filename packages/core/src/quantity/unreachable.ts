/** Ends a switch over a union: a new member fails to compile here. */
export function unreachable(value: never): never {
  throw new RangeError(`a case was not handled: ${JSON.stringify(value)}`);
}
