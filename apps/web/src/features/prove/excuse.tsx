import { useState } from "react";
import { useJobContext } from "../../job/job-context.ts";
import { Button } from "../../ui/button.tsx";
import { OneLineForm } from "../../ui/form.tsx";

/** Says why a test cannot be repeated; it is printed with it. `test`: as the log names it. */
export function Excuse({ test }: { test: string }) {
  const { record } = useJobContext();
  const [isOpen, setOpen] = useState(false);
  if (!isOpen)
    return (
      <Button look="quiet" onPress={() => setOpen(true)}>
        Cannot be repeated …
      </Button>
    );
  return (
    <OneLineForm
      label="Cannot be repeated, because"
      words="Save reason"
      placeholder="the trailer is not here"
      maxLength={300}
      autoFocus
      grow
      onSubmit={(why) => void record({ type: "test-excused", data: { test, why } })}
    />
  );
}
