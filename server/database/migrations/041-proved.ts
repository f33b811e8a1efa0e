/** Since when it is known that somebody reads the mail of their address. Whoever was here before is believed. */
export const proved = /* sql */ `
alter table people add column proved_at timestamptz;
update people set proved_at = now();
`;
