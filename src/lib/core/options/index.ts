// options: parts of my mod that players may have or not; each as a mod of its own over the main part, every combination checked.
export { optionsSchema, type ModOption } from './schema';
export { combinationsOf, groupsOf, type Combination } from './combinations';
export { optionLayers, OptionFault, withOptions, type OptionLayer } from './layers';
export { optionsText } from './text';
export { checkOptions, type OptionFinding } from './check';
