/** Hexadecimal in groups of four: a digest or a key that a person can copy and compare. */
export const grouped = (hex: string): string => hex.replace(/(.{4})(?=.)/g, "$1 ");
