import { Select } from "../../ui/select.tsx";

/** Whose jobs are shown. */
export function WhoseFilter({ people, whose, onWhose }: { people: readonly string[]; whose: string; onWhose: (whose: string) => void }) {
  const names = [...new Set([...people, whose])].filter((p) => p !== "");
  return (
    <Select
      label="Whose"
      inline
      value={whose}
      options={[{ id: "", text: "everybody’s" }, ...names.map((p) => ({ id: p, text: p }))]}
      onChange={onWhose}
    />
  );
}
