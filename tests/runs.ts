/** Whether property tests run at length (`npm run soak`). */
export const AT_LENGTH = process.env.SOAK === '1';

/** Cases that a property is tried on: all of them at length, fewer in every other run. @param most at length */
export const runs = (most: number): number => (AT_LENGTH ? most : Math.ceil(most * 0.2));
