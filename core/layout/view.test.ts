import { describe, expect, it } from "vitest";
import { random } from "../../testing/random";
import { AS_IT_IS, fitted, isAsItIs, nearerBy, placeToFill, turnedSize, WHOLE } from "./view";

const HD = { width: 1280, height: 720 };

describe("what of a picture is shown", () => {
  it("is all of it in its own box, and as high as it is wide when it is turned", () => {
    expect(fitted(HD, AS_IT_IS, HD, "fit")).toEqual(WHOLE);
    expect(turnedSize(HD, 90)).toEqual({ width: 720, height: 1280 });
    // By hand: 720 × 1280 in 1280 × 720 is 405 wide.
    const { x, width, height } = fitted(HD, { turn: 90, crop: WHOLE }, HD, "fit");
    expect([width * 1280, height, x * 1280].map((n) => Math.round(n * 10) / 10)).toEqual([405, 1, 437.5]);
    expect(isAsItIs(AS_IT_IS) && !isAsItIs({ ...AS_IT_IS, turn: 180 })).toBe(true);
  });

  it("fits its part into any box, or covers the box with it, about the middle", () => {
    const pick = random(5);
    for (let n = 0; n < 200; n++) {
      const size = () => ({ width: 100 + pick(900), height: 100 + pick(900) });
      const [picture, box] = [size(), size()];
      const width = 0.05 + pick(90) / 100;
      const height = 0.05 + pick(90) / 100;
      const crop = { x: (1 - width) * (pick(10) / 10), y: (1 - height) * (pick(10) / 10), width, height };
      const turn = ([0, 90, 180, 270] as const)[pick(4)]!;
      for (const how of ["fit", "cover"] as const) {
        const whole = fitted(picture, { turn, crop }, box, how);
        // Its shape stays, and its part is in the middle.
        const turned = turnedSize(picture, turn);
        expect((whole.width * box.width) / (whole.height * box.height)).toBeCloseTo(turned.width / turned.height, 6);
        const part = { w: crop.width * whole.width, h: crop.height * whole.height };
        const middle = [whole.x + crop.x * whole.width + part.w / 2, whole.y + crop.y * whole.height + part.h / 2];
        expect(middle[0]).toBeCloseTo(0.5, 9);
        expect(middle[1]).toBeCloseTo(0.5, 9);
        const limit = how === "fit" ? Math.max(part.w, part.h) : Math.min(part.w, part.h);
        expect(limit).toBeCloseTo(1, 9);
      }
    }
  });

  it("leaves no corner empty when it is straightened", () => {
    for (const tilt of [-15, -3, 0.5, 10]) {
      const k = nearerBy(HD, tilt);
      // Each corner of the frame, turned back, lies in the picture that is so much nearer.
      const angle = (-tilt * Math.PI) / 180;
      for (const [x, y] of [
        [640, 360],
        [-640, 360],
      ] as const) {
        const back = [x * Math.cos(angle) - y * Math.sin(angle), x * Math.sin(angle) + y * Math.cos(angle)] as const;
        expect(Math.abs(back[0])).toBeLessThanOrEqual(640 * k + 1e-6);
        expect(Math.abs(back[1])).toBeLessThanOrEqual(360 * k + 1e-6);
      }
    }
    expect(nearerBy(HD, 0)).toBe(1);
  });

  it("is a place of the frame's own shape, inside of it", () => {
    expect(placeToFill({ x: 0.9, y: 0.4, width: 0.1, height: 0.2 })).toEqual({
      x: 0.8,
      y: 0.4,
      width: 0.2,
      height: 0.2,
    });
    expect(placeToFill({ x: 0.5, y: 0.5, width: 0.001, height: 0 })).toMatchObject({ width: 0.05, height: 0.05 });
    expect(placeToFill({ x: -3, y: 0, width: 7, height: 1 })).toEqual(WHOLE);
  });
});
