/** What we use of the stand-in for a bucket; it has no types of its own. */
declare module "s3rver" {
  export default class S3rver {
    constructor(options: {
      port: number;
      address: string;
      silent: boolean;
      directory: string;
      configureBuckets: { name: string; configs: string[] }[];
    });
    run(): Promise<unknown>;
    close(): Promise<void>;
  }
}
