import addressparser from "nodemailer/lib/addressparser";

/** Somebody whom the sender asks, by name, by address, or both. */
export interface Invitee {
  name: string;
  email: string | null;
}

const ADDRESS = /^[^\s@<>,;"]+@[^\s@<>,;"]+\.[^\s@<>,;".]+$/;

/**
 * Reads what a sender types or pastes: names and addresses, one a line or with commas or semicolons between them, as
 * mail programs write them (RFC 5322, 3.4, by nodemailer's reader; and `Marsh, Ida <ida@marsh.example>` without the
 * quotes that it asks for). An address without a name is called by what stands before the `@`. Doubled addresses count
 * once.
 * @returns who was understood, and the pieces that look like an address and are none
 */
export function readInvitees(text: string): { invitees: Invitee[]; wrong: string[] } {
  const invitees: Invitee[] = [];
  const wrong: string[] = [];
  const seen = new Set<string>();
  for (const { name: given, address: to } of text.split("\n").flatMap(piecesOf).flatMap(mailboxesIn)) {
    const address = to.toLowerCase() || null;
    const name = given || (address?.split("@")[0] ?? "");
    if (!address && name === "") continue;
    if (
      name === "" ||
      (address && (!ADDRESS.test(address) || address.length > 254)) ||
      /[<>@]/.test(name) ||
      name.length > 80
    ) {
      wrong.push(given && address ? `${given} <${to}>` : given || to);
      continue;
    }
    if (address && seen.has(address)) continue;
    if (address) seen.add(address);
    invitees.push({ name, email: address });
  }
  return { invitees, wrong };
}

/** What semicolons part, outside of quotes: commas may be within names then. */
const piecesOf = (line: string): string[] => line.match(/(?:"(?:[^"\\]|\\.)*"|[^;])+/g) ?? [];

interface Mailbox {
  name: string;
  address: string;
}

function mailboxesIn(line: string): Mailbox[] {
  return addressparser(line, { flatten: true }).flatMap(({ name, address }): Mailbox[] => {
    const box = { name: tidy(name), address: address.trim() };
    const parts = box.name.split(",").map(tidy).filter(Boolean);
    // In quotes, or the family's name before the given one: somebody's name. Else others who are only named.
    if (parts.length < 2 || line.includes(`"${name}"`) || (parts.length === 2 && parts.some(isOneWord))) return [box];
    const last = parts.pop()!;
    return [...parts.map((other) => ({ name: other, address: "" })), { ...box, name: last }];
  });
}

const tidy = (text: string) => text.replace(/\s+/g, " ").trim();
const isOneWord = (name: string) => !name.includes(" ");
