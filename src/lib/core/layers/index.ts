// layers: what several layers make of the same things, and in which order they can be loaded.
export { clashesOf, type Clash, type ClashValue } from './clashes';
export { orderOf, type Demand, type LoadOrder } from './order';
export {
	cellSteps,
	settledStep,
	settledValue,
	settledValues,
	valueByRule,
	waysFor,
	type Choice,
	type Settled
} from './settle';
export { stackWith, valuesBetween, type OtherValue } from './compare';
