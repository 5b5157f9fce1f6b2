import { useState, type FormEvent } from "react";
import { Button } from "../ui/button.tsx";
import { Dialog } from "../ui/dialog.tsx";
import { Field } from "../ui/field.tsx";
import { Row } from "../ui/layout.tsx";
import { personChanged } from "./session.ts";
import { useAppDispatch, useAppSelector } from "./store.ts";

/** Asks who is working; every entry of a log carries a name. `onNamed` runs when one is given. */
export function PersonDialog({ isOpen, onClose, onNamed }: { isOpen: boolean; onClose: () => void; onNamed?: (name: string) => void }) {
  return (
    <Dialog title="Who is working?" isOpen={isOpen} onClose={onClose}>
      <PersonForm onClose={onClose} {...(onNamed === undefined ? {} : { onNamed })} />
    </Dialog>
  );
}

function PersonForm({ onClose, onNamed }: { onClose: () => void; onNamed?: (name: string) => void }) {
  const person = useAppSelector((s) => s.session.person);
  const dispatch = useAppDispatch();
  const [name, setName] = useState(person);
  const [error, setError] = useState("");
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    const trimmed = name.trim().slice(0, 80);
    if (trimmed === "") return setError("Type a name; every entry carries it.");
    dispatch(personChanged(trimmed));
    onNamed?.(trimmed);
    onClose();
  };
  return (
    <form onSubmit={submit} style={{ display: "grid", gap: "var(--s4)" }} noValidate>
      <Field
        label="Your name"
        value={name}
        onChange={setName}
        error={error}
        hint="Stays on this device and goes with every entry you make."
        maxLength={80}
        autoFocus
      />
      <Row>
        <Button look="solid" type="submit">
          Keep this name
        </Button>
        <Button onPress={onClose}>Cancel</Button>
      </Row>
    </form>
  );
}
