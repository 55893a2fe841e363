/** How many grounds of a proof are shown on its card. */
export const GROUNDS_ON_CARD = 3;
