// The files of the fonts that widths of texts are measured in, by the name that a field guide has for them.
const next = 'node_modules/@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next';
const mono = 'node_modules/@fontsource-variable/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono';
const fraunces = 'node_modules/@fontsource/fraunces/files/fraunces';

export const fontFiles = {
	sans: [`${next}-latin-wght-normal.woff2`, `${next}-latin-ext-wght-normal.woff2`],
	serif: [`${fraunces}-latin-500-normal.woff2`, `${fraunces}-latin-ext-500-normal.woff2`],
	mono: [`${mono}-latin-wght-normal.woff2`, `${mono}-latin-ext-wght-normal.woff2`]
};
