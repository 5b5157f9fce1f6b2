import { inWords } from "@rheonom/core/diagnosis";

/** What stands on the button for a word that a test is answered with. */
export const saidOn = (word: string): string => {
  const said = inWords(word);
  return `${said.charAt(0).toUpperCase()}${said.slice(1)}`;
};
