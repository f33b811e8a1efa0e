import crypto from "node:crypto";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import S3rver from "s3rver";
import { freePort } from "../server/database/cluster";

/** A bucket on loopback that another program keeps, by the protocol as it is published. */
export async function openBucket(): Promise<{ url: string; close(): Promise<void> }> {
  withDes();
  const port = await freePort();
  const bucket = new S3rver({
    port,
    address: "127.0.0.1",
    silent: true,
    directory: mkdtempSync(join(tmpdir(), "bucket-")),
    configureBuckets: [{ name: "glass", configs: [] }],
  });
  await bucket.run();
  // What this stand-in takes.
  process.env.AWS_ACCESS_KEY_ID = "S3RVER";
  process.env.AWS_SECRET_ACCESS_KEY = "S3RVER";
  return {
    url: `s3://glass/some/place?endpoint=${encodeURIComponent(`http://127.0.0.1:${port}`)}`,
    close: () => bucket.close(),
  };
}

/**
 * The stand-in writes its paging tokens with DES, which OpenSSL 3 has put away. Triple DES with three times the same
 * key is the same cipher.
 */
function withDes(): void {
  for (const name of ["createCipheriv", "createDecipheriv"] as const) {
    const make = crypto[name] as (algorithm: string, key: Buffer, iv: Buffer) => unknown;
    Object.assign(crypto, {
      [name]: (algorithm: string, key: Buffer, iv: Buffer) =>
        algorithm === "des" ? make("des-ede3-cbc", Buffer.concat([key, key, key]), iv) : make(algorithm, key, iv),
    });
  }
}
