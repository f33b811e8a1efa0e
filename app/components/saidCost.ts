/** What something takes of this computer. @param share of one processor */
export const saidCost = (share: number): string =>
  `It takes ${Math.max(1, Math.round(100 * share))} % of one processor of this computer.`;
