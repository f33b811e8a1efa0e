import { fileURLToPath } from "node:url";
import { DiskStorage } from "./disk";
import type { Storage } from "./storage";

/** The storage at an address: `file:/some/dir` or `s3://bucket/prefix`. */
export async function openStorage(url: string): Promise<Storage> {
  if (!url.startsWith("s3:")) return new DiskStorage(fileURLToPath(url.replace(/^file:(?!\/\/)/, "file://")));
  // Large, and of no use to whoever keeps files.
  const { readS3Url, S3Storage } = await import("./s3");
  return new S3Storage(readS3Url(url));
}
