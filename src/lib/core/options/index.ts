// options: parts of my mod that players may have or not; each as a mod of its own over the main part, every combination checked.
export { optionSchema, optionsSchema, type ModOption, type OptionFile } from './schema';
export { combinationsOf, groupsOf, roundsOf, type Combination } from './combinations';
export { optionLayers, OptionFault, optionName, optionStack, withOptions, type OptionLayer } from './layers';
export { contentsOf, keptOf, transferred, wholeThings, type Thing } from './transfer';
export { optionsText } from './text';
export { checkOptions, type OptionFinding } from './check';
export { mergedWith, settledBy } from './merged';
