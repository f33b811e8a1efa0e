import jsonld from "jsonld";
import { expect, it } from "vitest";
import { toAnnotationPage } from "./web-annotation";

/**
 * The terms that we use of http://www.w3.org/ns/anno.jsonld (W3C Web Annotation Vocabulary, 2017; from memory, because
 * nothing is fetched here).
 */
const ANNOTATION_TERMS = {
  oa: "http://www.w3.org/ns/oa#",
  dc: "http://purl.org/dc/elements/1.1/",
  dcterms: "http://purl.org/dc/terms/",
  foaf: "http://xmlns.com/foaf/0.1/",
  rdf: "http://www.w3.org/1999/02/22-rdf-syntax-ns#",
  as: "http://www.w3.org/ns/activitystreams#",
  xsd: "http://www.w3.org/2001/XMLSchema#",
  id: { "@type": "@id", "@id": "@id" },
  type: { "@type": "@id", "@id": "@type" },
  Annotation: "oa:Annotation",
  AnnotationPage: "as:OrderedCollectionPage",
  TextualBody: "oa:TextualBody",
  FragmentSelector: "oa:FragmentSelector",
  Person: "foaf:Person",
  commenting: "oa:commenting",
  replying: "oa:replying",
  items: { "@type": "@id", "@id": "as:items", "@container": "@list" },
  body: { "@type": "@id", "@id": "oa:hasBody" },
  target: { "@type": "@id", "@id": "oa:hasTarget" },
  source: { "@type": "@id", "@id": "oa:hasSource" },
  selector: { "@type": "@id", "@id": "oa:hasSelector" },
  conformsTo: { "@type": "@id", "@id": "dcterms:conformsTo" },
  motivation: { "@type": "@vocab", "@id": "oa:motivatedBy" },
  creator: { "@type": "@id", "@id": "dcterms:creator" },
  created: { "@id": "dcterms:created", "@type": "xsd:dateTime" },
  modified: { "@id": "dcterms:modified", "@type": "xsd:dateTime" },
  value: "rdf:value",
  format: "dc:format",
  name: "foaf:name",
};

const documentLoader = async (url: string) => {
  if (url !== "http://www.w3.org/ns/anno.jsonld") throw new Error(`nothing else is to be loaded: ${url}`);
  return { contextUrl: undefined, documentUrl: url, document: { "@context": ANNOTATION_TERMS } };
};

it("comments are JSON-LD, read by a reference library: each says what it should, and nothing of it is lost", async () => {
  const comment = {
    id: "0d5b5bd8-0000-4000-8000-000000000001",
    replyTo: null,
    author: "Ida “the glazier” Crake",
    body: "Why here?\nAnd <why> now?",
    at: 12_500_000,
    until: 20_000_000,
    createdAt: "2026-11-24T09:00:00.000Z",
    editedAt: "2026-11-24T10:00:00.000Z",
  };
  const reply = { ...comment, id: "0d5b5bd8-0000-4000-8000-000000000002", replyTo: comment.id, until: null };
  const page = toAnnotationPage("https://nod.test/w/abc", [comment, reply]);
  const quads = (await jsonld.toRDF(page as object, { documentLoader })) as unknown as {
    subject: { value: string };
    predicate: { value: string };
    object: { value: string };
  }[];
  const of = (subject: string, term: string) =>
    quads.filter((q) => q.subject.value === subject && q.predicate.value === term).map((q) => q.object.value);
  const oa = (name: string) => `http://www.w3.org/ns/oa#${name}`;
  const [first, second] = [comment, reply].map(({ id }) => `urn:uuid:${id}`) as [string, string];
  const [body] = of(first, oa("hasBody")) as [string];
  expect(of(body, "http://www.w3.org/1999/02/22-rdf-syntax-ns#value")).toEqual([comment.body]);
  const [target] = of(first, oa("hasTarget")) as [string];
  expect(of(target, oa("hasSource"))).toEqual(["https://nod.test/w/abc"]);
  const [selector] = of(target, oa("hasSelector")) as [string];
  expect(of(selector, "http://www.w3.org/1999/02/22-rdf-syntax-ns#value")).toEqual(["t=12.5,20"]);
  expect(of(second, oa("hasTarget"))).toEqual([first]);
  expect([of(first, oa("motivatedBy")), of(second, oa("motivatedBy"))]).toEqual([[oa("commenting")], [oa("replying")]]);
  expect(of(first, "http://purl.org/dc/terms/modified")).toEqual([comment.editedAt]);
  const [creator] = of(first, "http://purl.org/dc/terms/creator") as [string];
  expect(of(creator, "http://xmlns.com/foaf/0.1/name")).toEqual([comment.author]);
});
