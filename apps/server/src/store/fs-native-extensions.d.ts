declare module "fs-native-extensions" {
  /** Asks for the system's lock on an open file, which goes with the file descriptor. False when another one holds it. */
  export function tryLock(fd: number, options?: { readonly shared?: boolean }): boolean;
}
