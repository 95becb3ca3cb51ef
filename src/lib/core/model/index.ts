// model: from layers to a stack, in one way for the command, the server and the tests; who keeps facts and findings
// answers what the builder asks for.
export {
	layerSteps,
	loadSteps,
	stackSteps,
	startMemory,
	type Building,
	type LayerSource,
	type Memory,
	type BuildOptions,
	type ToRead,
	type UnreadFile,
	type Wish
} from './builder';
export { assembleStack, loadLayer, type Known, type LayerBytes } from './assemble';
export { guideSteps, guideWith } from './finding';
