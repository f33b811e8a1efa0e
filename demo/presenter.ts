import type { Look } from "./people";

export const CAMERA = { width: 640, height: 480 };

/** One moment of a drawn presenter. */
export interface Pose {
  /** how far the mouth is open, 0 to 4 */
  mouth: number;
  blinks: boolean;
  /** how far the head leans, -2 to 2 */
  lean: number;
}

export const AT_REST: Pose = { mouth: 0, blinks: false, lean: 0 };

/** A presenter before the panes of the workshop. */
export function drawPresenter({ skin, hair, coat, beard, longHair }: Look, { mouth, blinks, lean }: Pose): string {
  const open = 3 + mouth * 6;
  const eye = (x: number) =>
    blinks
      ? `<path d="M${x - 13} 214q13 7 26 0" stroke="#1B1715" stroke-width="5" fill="none"/>`
      : `<ellipse cx="${x}" cy="214" rx="8" ry="10" fill="#1B1715"/>`;
  const panes = [80, 200, 320, 440, 560].map((x) => `<path d="M${x} 0V480" stroke="#FFF" stroke-width="5"/>`).join("");
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${CAMERA.width}" height="${CAMERA.height}">
    <rect width="640" height="480" fill="#CFE0D8"/>${panes}<path d="M0 150H640M0 330H640" stroke="#FFF" stroke-width="5"/><path d="M0 430Q120 350 240 440T520 420T640 450V480H0Z" fill="#8FAE86"/>
    <path d="M130 480Q150 372 260 352H380Q490 372 510 480Z" fill="${coat}"/><rect x="285" y="300" width="70" height="70" fill="${skin}"/>
    <g transform="translate(${lean * 3} ${Math.abs(lean)}) rotate(${lean} 320 330)">
      ${longHair ? `<path d="M196 330Q190 92 320 88Q450 92 444 330Q430 350 408 340V220H232V340Q210 350 196 330Z" fill="${hair}"/>` : ""}
      <ellipse cx="320" cy="222" rx="98" ry="118" fill="${skin}"/>
      <path d="M222 205Q218 98 320 94Q422 98 418 205Q396 140 320 142Q244 140 222 205Z" fill="${hair}"/>
      ${beard ? `<path d="M228 236Q236 352 320 356Q404 352 412 236Q398 300 320 296Q242 300 228 236Z" fill="${hair}"/>` : ""}
      ${eye(282)}${eye(358)}<path d="M266 190q16 -9 32 -2M342 188q16 -7 32 2" stroke="${hair}" stroke-width="6" fill="none"/>
      <path d="M320 216q-11 30 -4 36h12" stroke="#00000055" stroke-width="4" fill="none"/>
      <ellipse cx="320" cy="282" rx="${30 - mouth * 2}" ry="${open}" fill="#6B2F26"/>${mouth > 1 ? `<rect x="304" y="${282 - open + 2}" width="32" height="6" fill="#FFF"/>` : ""}
    </g></svg>`;
}
