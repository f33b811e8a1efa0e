import { expect, it } from "vitest";
import { gate } from "../../testing/gate";
import { Lines } from "./lines";

it("does the work of one name in order and of others meanwhile, and goes on after what failed", async () => {
  const lines = new Lines();
  const done: string[] = [];
  const door = gate();
  const first = lines.stand("a", async () => {
    await door.promise;
    done.push("a1");
    throw new Error("broken");
  });
  const second = lines.stand("a", async () => void done.push("a2"));
  await lines.stand("b", async () => void done.push("b"));
  expect(done).toEqual(["b"]);
  door.resolve();
  await expect(first).rejects.toThrow("broken");
  await second;
  expect(done).toEqual(["b", "a1", "a2"]);
});

it("refuses when very many wait, and takes again when they are through", async () => {
  const lines = new Lines(2);
  const door = gate();
  const some = [1, 2].map(() => lines.stand("a", () => door.promise));
  await expect(lines.stand("a", async () => 1)).rejects.toMatchObject({ status: 503 });
  door.resolve();
  await Promise.all(some);
  expect(await lines.stand("a", async () => 1)).toBe(1);
});
