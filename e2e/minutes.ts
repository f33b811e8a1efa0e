import PgBoss from "pg-boss";
import { databaseOf, databaseUrlOf } from "./database";

/** Somebody who is told things has the address $1: what waits for them has waited for two minutes. */
const GATHERED = [
  `update inbox b set at = b.at - interval '2 minutes', due_at = now() from people p
    where p.email = $1 and b.person_id = p.id and b.due_at is not null`,
  `update folder_news n set at = n.at - interval '2 minutes', due_at = now() from folder_people p
    where p.email = $1 and n.folder_person_id = p.id and n.due_at is not null`,
];

/** Has the running server do now what it does once a minute by itself. Ends when that is asked for. */
export async function runJob(dataDir: string, name: "tell" | "hooks"): Promise<void> {
  const url = databaseUrlOf(dataDir);
  const boss = new PgBoss({
    connectionString: url,
    schema: "jobs",
    max: 1,
    supervise: false,
    schedule: false,
    migrate: false,
  });
  await boss.start();
  try {
    await boss.send(name, {}, { singletonKey: "all" });
  } finally {
    await boss.stop({ graceful: false, wait: true });
  }
}

/** What has just come for somebody is not gathered any longer, and they are told. */
export async function tellNow(dataDir: string, address: string): Promise<void> {
  const client = await databaseOf(dataDir);
  try {
    for (const statement of GATHERED) await client.query(statement, [address]);
  } finally {
    await client.end();
  }
  await runJob(dataDir, "tell");
}
