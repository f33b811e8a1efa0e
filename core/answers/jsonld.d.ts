/** What we use of the library; it has no types of its own. */
declare module "jsonld" {
  interface Loaded {
    contextUrl: string | undefined;
    documentUrl: string;
    document: object;
  }
  const jsonld: {
    toRDF(input: object, options: { documentLoader(url: string): Promise<Loaded> }): Promise<object[]>;
  };
  export default jsonld;
}
