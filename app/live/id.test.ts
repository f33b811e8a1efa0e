import Joi from "joi";
import { expect, it } from "vitest";
import { newId } from "./id";

it("is a UUID of version 4, and another each time", () => {
  const ids = Array.from({ length: 500 }, newId);
  for (const id of ids) expect(Joi.string().uuid({ version: "uuidv4" }).validate(id).error).toBeUndefined();
  expect(new Set(ids).size).toBe(500);
});
