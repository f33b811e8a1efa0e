/** A share from 0 to 1, as people read it. */
export const percent = (share: number) => `${Math.round(share * 100)} %`;
