import { readFileSync } from "node:fs";
import type { FullConfig } from "@playwright/test";
import { databaseOf } from "./database";

/** What opens something for whoever has it, of everything that the run has made. */
const SECRETS = `
select 'link' as what, token as secret from recordings
union all select 'personal link', key from invites
union all select 'old link', token from old_links
union all select 'short link', short from recordings where short is not null
union all select 'link to join', token from join_links`;

/** After a whole run of browsers against one server: nothing that opens something stands in its log. */
export default async function teardown({ metadata }: FullConfig): Promise<void> {
  const { dataDir } = metadata as { dataDir: string };
  const log = readFileSync(`${dataDir}.log`, "utf8");
  const client = await databaseOf(dataDir);
  const { rows } = await client.query<{ what: string; secret: string }>(SECRETS);
  await client.end();
  const told = rows.filter(({ secret }) => log.includes(secret)).map(({ what }) => what);
  const cookies = log.match(/clear_nod_\w+=[\w-]{8,}/g) ?? [];
  const requests = log.split("\n").filter((line) => line.includes('"msg":"request"')).length;
  if (rows.length === 0 || requests === 0) throw new Error("The run has left nothing to look through.");
  if (told.length > 0 || cookies.length > 0) {
    throw new Error(`The log in ${dataDir}.log tells secrets: ${[...told, ...cookies.map(() => "cookie")].join(", ")}`);
  }
  process.stdout.write(`The log of ${requests} requests tells none of ${rows.length} links.\n`);
}
