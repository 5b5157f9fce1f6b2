import { useRef, type ReactNode } from "react";
import { Button, type Look } from "./button.tsx";

export interface FileButtonProps {
  /** What the files are, for those who cannot see the button. */
  readonly label: string;
  readonly accept: string;
  readonly onFiles: (files: readonly File[]) => void;
  readonly multiple?: boolean;
  /** Opens the camera where the device has one. */
  readonly camera?: boolean;
  readonly look?: Look;
  readonly isDisabled?: boolean;
  readonly children: ReactNode;
}

/** A button that chooses files. The same file may be chosen twice in a row. */
export function FileButton({
  label,
  accept,
  onFiles,
  multiple = false,
  camera = false,
  look = "plain",
  isDisabled = false,
  children,
}: FileButtonProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button look={look} isDisabled={isDisabled} onPress={() => input.current?.click()}>
        {children}
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        multiple={multiple}
        accept={accept}
        {...(camera ? { capture: "environment" as const } : {})}
        aria-label={label}
        onChange={(e) => {
          const files = [...(e.currentTarget.files ?? [])];
          e.currentTarget.value = "";
          if (files.length > 0) onFiles(files);
        }}
      />
    </>
  );
}
