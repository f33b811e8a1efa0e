/** The shortest password of a link, in characters. It is shared among many, and guessing it is slowed down. */
export const PASSWORD_MIN = 6;
