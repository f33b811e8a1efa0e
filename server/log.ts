import { pino, type Logger } from "pino";

/** What opens something for whoever has it: links, personal links, cookies, keys of addresses with a password. */
const SECRETS = [
  { find: /((?:\/|%2F)(?:w|e|join|for|feeds|no-mail|start|reset|confirm|undo)(?:\/|%2F))[\w.-]{16,}/gi, as: "$1*" },
  { find: /((?:\/|%2F)s(?:\/|%2F))[\w-]{8,}/gi, as: "$1*" },
  { find: /(#for=|[?&](?:key|token|join)=)[\w-]+/g, as: "$1*" },
  { find: /((?:clear_nod_\w+)=)[^;\s"]+/g, as: "$1*" },
  { find: /\bwhsec_[\w+/=]+/g, as: "whsec_*" },
  { find: /\bclear-nod-[\w-]{43}/g, as: "clear-nod-*" },
  { find: /((?:postgres(?:ql)?|smtps?):\/\/[^:/\s]+:)[^@\s]+@/g, as: "$1*@" },
];

/** A text without anything that opens something. */
export function withoutSecrets(text: string): string {
  return SECRETS.reduce((kept, { find, as }) => kept.replace(find, as), text);
}

/**
 * The log of a process, one JSON object a line. Errors are told by name, words, code and place: never by the statement
 * and its parameters, in which links, names and words of people stand.
 */
export function openLog(level: string, destination?: pino.DestinationStream): Logger {
  const options = { level, base: undefined, serializers: { err: errorForLog } };
  return destination ? pino(options, destination) : pino(options);
}

function errorForLog(error: unknown): object {
  if (!(error instanceof Error)) return { message: withoutSecrets(String(error)) };
  const { name, message, stack } = error;
  const { code, cause, parent } = error as NodeJS.ErrnoException & { parent?: NodeJS.ErrnoException };
  // A database's message may quote the values of the row that it refused: `Key (token)=(…) already exists`.
  const said = withoutSecrets(message).replace(/=\([^)]*\)/g, "=(*)");
  return {
    name,
    message: said,
    ...((code ?? parent?.code) && { code: code ?? parent?.code }),
    ...(stack && { at: placesOf(stack) }),
    ...(cause instanceof Error && { cause: errorForLog(cause) }),
  };
}

/** Where it happened: the lines of a stack without the message that stands before them. */
const placesOf = (stack: string) =>
  stack
    .split("\n")
    .filter((line) => /^\s+at /.test(line))
    .slice(0, 12)
    .map((line) => withoutSecrets(line.trim()));
