import { createReadStream } from "node:fs";
import { stat } from "node:fs/promises";
import type { Readable } from "node:stream";
import {
  DeleteObjectCommand,
  DeleteObjectsCommand,
  GetObjectCommand,
  ListObjectsV2Command,
  PutObjectCommand,
  S3Client,
  type S3ServiceException,
} from "@aws-sdk/client-s3";
import { Upload } from "@aws-sdk/lib-storage";
import type { S3Place } from "./s3-url";
import { checkKey, MissingObject, StorageFull, type ByteRange, type Storage, type StoredObject } from "./storage";

/**
 * What is larger than one request takes comes in parts: a request ends at 5 GiB (S3 API, from memory), and a part that
 * fails is sent again alone.
 */
const SIZES = { request: 256 * 1024 * 1024, part: 32 * 1024 * 1024 };
/** S3 API, multipart upload limits (from memory): 10,000 parts of at most 5 GiB. */
const MOST_PARTS = 10_000;
/** So many parts are in memory. */
const PARTS_AT_ONCE = 2;
const READ_BYTES = 1024 * 1024;
/** What one request may remove (S3 API, DeleteObjects). */
const REMOVED_AT_ONCE = 1_000;

/**
 * Storage in a bucket that speaks the S3 API. Who may use it is told the usual way of its library: by the environment
 * (`AWS_ACCESS_KEY_ID`, `AWS_SECRET_ACCESS_KEY`), a profile, or the machine's own role.
 */
export class S3Storage implements Storage {
  #client: S3Client;

  /** @param sizes bytes; parts of less than 5 MiB are not taken */
  constructor(
    private readonly place: S3Place,
    private readonly sizes = SIZES,
  ) {
    this.#client = new S3Client({
      region: place.region,
      // With an endpoint of one's own the bucket stands in the path: its name is in no DNS.
      ...(place.endpoint && { endpoint: place.endpoint, forcePathStyle: true }),
      // Our segments have digests of their own; older servers do not know these checksums.
      requestChecksumCalculation: "WHEN_REQUIRED",
      responseChecksumValidation: "WHEN_REQUIRED",
    });
  }

  put(key: string, bytes: Uint8Array): Promise<void> {
    return this.#put(key, bytes, bytes.length);
  }

  async putFile(key: string, path: string): Promise<void> {
    const { size } = await stat(path);
    if (size <= this.sizes.request) return this.#put(key, createReadStream(path), size);
    const partSize = Math.max(this.sizes.part, Math.ceil(size / MOST_PARTS));
    await this.#orFull(() =>
      // What was begun and fails is taken away again, so that nobody pays for it.
      new Upload({
        client: this.#client,
        params: { ...this.#object(key), Body: createReadStream(path, { highWaterMark: READ_BYTES }) },
        partSize,
        queueSize: PARTS_AT_ONCE,
      }).done(),
    );
  }

  #put(key: string, body: Uint8Array | Readable, size: number): Promise<void> {
    return this.#orFull(() =>
      this.#client.send(new PutObjectCommand({ ...this.#object(key), Body: body, ContentLength: size })),
    );
  }

  async #orFull(send: () => Promise<unknown>): Promise<void> {
    try {
      await send();
    } catch (cause) {
      const { name, $metadata } = cause as S3ServiceException;
      if ($metadata?.httpStatusCode === 507 || name === "QuotaExceeded" || name === "XMinioStorageFull") {
        throw new StorageFull("the bucket is full", { cause });
      }
      throw cause;
    }
  }

  async get(key: string): Promise<Buffer> {
    const { Body } = await this.#get(key);
    return Buffer.from(await Body!.transformToByteArray());
  }

  async read(key: string, range?: ByteRange): Promise<Readable> {
    const { Body } = await this.#get(key, range && `bytes=${range.from}-${range.to}`);
    return Body as Readable;
  }

  async *list(prefix: string): AsyncGenerator<StoredObject> {
    const { bucket } = this.place;
    const from = this.#path(prefix) + "/";
    for (let token: string | undefined, more = true; more;) {
      const page = await this.#client.send(
        new ListObjectsV2Command({ Bucket: bucket, Prefix: from, ContinuationToken: token }),
      );
      for (const { Key, Size = 0, LastModified } of page.Contents ?? []) {
        yield { key: `${prefix}/${Key!.slice(from.length)}`, size: Size, writtenAt: LastModified! };
      }
      token = page.NextContinuationToken;
      more = page.IsTruncated === true;
    }
  }

  async remove(key: string): Promise<void> {
    await this.#client.send(new DeleteObjectCommand(this.#object(key)));
  }

  async removeAll(prefix: string): Promise<void> {
    const some: string[] = [];
    let whole = true;
    for await (const { key } of this.list(prefix)) {
      some.push(key);
      if (some.length >= REMOVED_AT_ONCE) whole = (await this.#removeSome(some.splice(0))) && whole;
    }
    whole = (await this.#removeSome(some)) && whole;
    // What is still there is removed one by one: some servers of the same API trip over many at once.
    if (!whole) for await (const { key } of this.list(prefix)) await this.remove(key);
  }

  async ready(): Promise<void> {
    for await (const _ of this.list("takes")) return;
  }

  /** @returns whether all of them are gone */
  async #removeSome(keys: string[]): Promise<boolean> {
    if (keys.length === 0) return true;
    const Objects = keys.map((key) => ({ Key: this.#path(key) }));
    const command = new DeleteObjectsCommand({ Bucket: this.place.bucket, Delete: { Objects, Quiet: true } });
    try {
      return ((await this.#client.send(command)).Errors ?? []).length === 0;
    } catch (error) {
      if (((error as S3ServiceException).$metadata?.httpStatusCode ?? 0) < 500) throw error;
      return false;
    }
  }

  async #get(key: string, range?: string) {
    try {
      return await this.#client.send(new GetObjectCommand({ ...this.#object(key), Range: range }));
    } catch (cause) {
      if ((cause as S3ServiceException).name === "NoSuchKey") {
        throw new MissingObject(`nothing is stored under ${key}`, { cause });
      }
      throw cause;
    }
  }

  #object = (key: string) => ({ Bucket: this.place.bucket, Key: this.#path(key) });

  #path(key: string): string {
    checkKey(key);
    return this.place.prefix ? `${this.place.prefix}/${key}` : key;
  }
}
