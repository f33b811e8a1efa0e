import pg from "pg";

/** The database that is migrated once for a run of tests. */
export const TEMPLATE = "template_of_tests";

/**
 * Makes a database in a cluster, as a copy of another that nobody is connected to.
 * @returns its address
 */
export async function createDatabase(clusterUrl: string, name: string, template = TEMPLATE): Promise<string> {
  const admin = new pg.Client({ connectionString: clusterUrl });
  await admin.connect();
  try {
    await admin.query(`create database ${name} template ${template}`);
  } finally {
    await admin.end();
  }
  return clusterUrl.replace(/\/[^/]*$/, `/${name}`);
}
