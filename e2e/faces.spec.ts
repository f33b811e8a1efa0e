import sharp from "sharp";
import { MEMBERS, type DemoMember } from "../demo/people";
import { AT_REST, CAMERA, drawPresenter } from "../demo/presenter";
import { pictured } from "../testing/media";
import { expect, test } from "./test";
import { fold, putTake, signUp, sound } from "./steps";

const SCREEN = { width: 1280, height: 720 };

/** People of the sample in a picture, each so wide. */
async function drawn(ground: { width: number; height: number }, people: [DemoMember, number, number, number][]) {
  const input = await Promise.all(
    people.map(async ([{ look }, wide, left, top]) => ({
      input: await sharp(Buffer.from(drawPresenter(look, AT_REST)))
        .resize({ width: wide })
        .png()
        .toBuffer(),
      ...{ left, top },
    })),
  );
  return sharp({ create: { ...ground, channels: 3, background: "#ddd" } })
    .composite(input)
    .png()
    .toBuffer();
}

test("faces besides the presenter's are found on the screen and before the camera, and lead to their moments", async ({
  page,
}) => {
  const [orla, bram, suri] = MEMBERS as [DemoMember, DemoMember, DemoMember];
  await signUp(page);
  const screen = await drawn(SCREEN, [[suri, 240, 960, 60]]);
  const camera = await drawn(CAMERA, [
    [orla, 320, 0, 120],
    [bram, 320, 320, 120],
  ]);
  const { link } = await putTake(
    page,
    4,
    { source: "screen-camera", title: "A call", audience: "anyone" },
    { screen: pictured(screen, 4), camera: pictured(camera, 4), microphone: "microphone" },
  );
  await page.goto(link);
  await page.getByTitle("Change who can open it").click();
  await fold(page, "Before others see it").click();
  await page.getByRole("button", { name: "Look for other faces in it" }).click();
  const seen = page.getByRole("list", { name: "Where somebody else may be seen" }).getByRole("listitem");
  await expect(seen.first()).toHaveText("0:00, a face on the screen", { timeout: 60_000 });
  await expect(seen.nth(1)).toHaveText("0:00 to 0:03, 2 people before the camera");
  await expect(seen.first().getByRole("link")).toHaveAttribute("href", /#t=0$/);
  await sound(page, "faces that were found");
});
