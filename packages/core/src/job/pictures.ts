interface Placed {
  readonly data: { readonly at: string; readonly when: "before" | "after" };
}

/** In the order of their places as they came up; of one place before stands ahead of after, so that a pair lies side by side. */
export function pairPictures<T extends Placed>(pictures: readonly T[]): readonly T[] {
  const places = [...new Set(pictures.map((p) => p.data.at))];
  return places.flatMap((at) => {
    const [before, after] = (["before", "after"] as const).map((when) => pictures.filter((p) => p.data.at === at && p.data.when === when));
    // The first of before goes with the first of after, and so on.
    const longest = Math.max(before!.length, after!.length);
    return Array.from({ length: longest }, (_, i) => [before![i], after![i]])
      .flat()
      .filter((p) => p !== undefined);
  });
}
