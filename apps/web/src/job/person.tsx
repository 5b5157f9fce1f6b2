import { useForm } from "react-hook-form";
import { Button } from "../ui/button.tsx";
import { Dialog } from "../ui/dialog.tsx";
import { FormStack, TextInput } from "../ui/form.tsx";
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
  const { control, handleSubmit } = useForm({ defaultValues: { name: person } });
  const keep = ({ name }: { readonly name: string }): void => {
    const trimmed = name.trim().slice(0, 80);
    dispatch(personChanged(trimmed));
    onNamed?.(trimmed);
    onClose();
  };
  return (
    <FormStack onSubmit={(e) => void handleSubmit(keep)(e)} noValidate>
      <TextInput
        control={control}
        name="name"
        rules={{ validate: (name) => (name.trim() === "" ? "Type a name; every entry carries it." : true) }}
        label="Your name"
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
    </FormStack>
  );
}
