/** Where a bucket is: `s3://bucket/some/prefix?endpoint=http://…&region=…`. */
export interface S3Place {
  bucket: string;
  /** stands before every key, without a slash at either end; may be empty */
  prefix: string;
  /** null for the provider's own */
  endpoint: string | null;
  region: string;
}

/** An address that leads to no bucket. */
export class StorageAddressError extends Error {}

/** @throws {StorageAddressError} for what is no such address */
export function readS3Url(text: string): S3Place {
  const url = URL.canParse(text) ? new URL(text) : null;
  if (url?.protocol !== "s3:" || !url.hostname)
    throw new StorageAddressError("an s3: address names a bucket: s3://bucket/prefix");
  const endpoint = url.searchParams.get("endpoint");
  if (endpoint !== null && !/^https?:\/\//.test(endpoint)) {
    throw new StorageAddressError("the endpoint of an s3: address is an http: or https: address");
  }
  return {
    bucket: url.hostname,
    prefix: url.pathname.replace(/^\/+|\/+$/g, ""),
    endpoint,
    region: url.searchParams.get("region") ?? "us-east-1",
  };
}
