/** A field that must not stay empty. */
export const wanted = (message: string): { readonly validate: (text: string) => string | true } => ({
  validate: (text) => (text.trim() === "" ? message : true),
});
