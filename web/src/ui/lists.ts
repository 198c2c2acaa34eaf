/** The item at an index that exists; a RangeError if it does not. */
export function nth<T>(list: ArrayLike<T>, index: number): T {
  const item = list[index];
  if (item === undefined) throw new RangeError(`Index ${index} of a list of ${list.length}.`);
  return item;
}

/** The value of a key that exists; a RangeError if it does not. */
export function entry<T>(record: Readonly<Record<string, T>>, key: string): T {
  const value = record[key];
  if (value === undefined) throw new RangeError(`No entry ${key}.`);
  return value;
}
