import { ACTIVATION, UNDELIVERED } from "./message.ts";

const ACTIVATED: Readonly<Record<number, string>> = {
  [ACTIVATION.unknownSource]: "the vehicle does not know this tester's address",
  [ACTIVATION.socketsTaken]: "all of the vehicle's connections are taken: another tester is plugged in or was not closed",
  [ACTIVATION.otherSource]: "this connection already belongs to another tester's address",
  [ACTIVATION.sourceTaken]: "a tester with the same address is already connected",
  [ACTIVATION.authenticate]: "the vehicle asks for authentication",
  [ACTIVATION.rejected]: "the vehicle rejected the confirmation",
  [ACTIVATION.type]: "the vehicle does not know this kind of activation",
  [ACTIVATION.done]: "connected",
  [ACTIVATION.confirm]: "the vehicle wants the connection confirmed at its own screen",
};
/** Result of opening a connection (routing activation, ISO 13400-2), in words. */
export const activationWords = (code: number): string => ACTIVATED[code] ?? `the vehicle refused the connection with code ${code}`;

const NOT_DELIVERED: Readonly<Record<number, string>> = {
  [UNDELIVERED.source]: "the vehicle does not accept this tester's address",
  [UNDELIVERED.unknownTarget]: "the vehicle knows no module at this address",
  [UNDELIVERED.tooLarge]: "the message is too long for the vehicle",
  [UNDELIVERED.memory]: "the vehicle is out of memory",
  [UNDELIVERED.unreachable]: "the module cannot be reached",
  [UNDELIVERED.network]: "the vehicle has no such network",
  [UNDELIVERED.transport]: "the vehicle's own bus failed on the way to the module",
};
/** Why a message was not delivered (ISO 13400-2), in words. */
export const undeliveredWords = (code: number): string => NOT_DELIVERED[code] ?? `the message was not delivered, code ${code}`;
