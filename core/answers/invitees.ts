/** Somebody whom the sender asks, by name, by address, or both. */
export interface Invitee {
  name: string;
  email: string | null;
}

const ADDRESS = /^[^\s@<>,;"]+@[^\s@<>,;"]+\.[^\s@<>,;".]+$/;

/**
 * Reads what a sender types: names and addresses, one a line or with commas or semicolons between them; `Ida Marsh
 * <ida@marsh.example>` as in mail
 * (RFC 5322, 3.4, its plain forms). An address without a name is called by what stands before the `@`. Doubled
 * addresses count once.
 * @returns who was understood, and the pieces that look like an address and are none
 */
export function readInvitees(text: string): { invitees: Invitee[]; wrong: string[] } {
  const invitees: Invitee[] = [];
  const wrong: string[] = [];
  const seen = new Set<string>();
  for (const piece of text.split(/[\n,;]+/).map((p) => p.replace(/\s+/g, " ").trim())) {
    if (piece === "") continue;
    const [, before, within] = /^"?([^"<>]*?)"? ?<([^<>]*)>$/.exec(piece) ?? [];
    const address = (within ?? (piece.includes("@") ? piece : ""))?.trim().toLowerCase() || null;
    const name =
      (address && within === undefined ? address.split("@")[0]! : (before ?? piece)).trim() ||
      (address?.split("@")[0] ?? "");
    if ((address && (!ADDRESS.test(address) || address.length > 254)) || /[<>]/.test(name) || name.length > 80) {
      wrong.push(piece);
      continue;
    }
    if (address && seen.has(address)) continue;
    if (address) seen.add(address);
    invitees.push({ name, email: address });
  }
  return { invitees, wrong };
}
