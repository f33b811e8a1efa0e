import { fileURLToPath } from "node:url";
import { SettingsError } from "../settings";
import { DiskStorage } from "./disk";
import { readS3Url } from "./s3-url";
import type { Storage } from "./storage";

/**
 * The storage at an address: `file:/some/dir` or `s3://bucket/prefix`.
 * @throws {SettingsError} when it does not answer
 */
export async function openStorage(url: string): Promise<Storage> {
  if (!url.startsWith("s3:")) return new DiskStorage(fileURLToPath(url.replace(/^file:(?!\/\/)/, "file://")));
  const place = readS3Url(url);
  // Large, and of no use to whoever keeps files.
  const { S3Storage } = await import("./s3");
  const storage = new S3Storage(place);
  try {
    await storage.list("takes").next();
  } catch (cause) {
    throw new SettingsError(
      `Settings: the bucket of STORAGE_URL (${place.bucket}) cannot be used: ${(cause as Error).message}.`,
      { cause },
    );
  }
  return storage;
}
