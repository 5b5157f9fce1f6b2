// What opens over any screen: fetched after the first one has drawn itself.
export { HelpDialog } from "./help.tsx";
export { Palette } from "./palette.tsx";
export { PersonDialog } from "../job/person.tsx";
export { Toasts } from "../ui/toast.tsx";
