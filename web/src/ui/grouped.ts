/** A whole number as it is read: its digits in groups of three. */
export const grouped = (n: number): string => String(n).replace(/\B(?=(\d{3})+$)/g, ' ');
