// What varies from stroke to stroke, and by what one is found again: 31 bits.

export const newSeed = () => crypto.getRandomValues(new Uint32Array(1))[0] >>> 1;
