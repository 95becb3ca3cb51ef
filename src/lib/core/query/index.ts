// query: which rows of a table are shown and in what order; conditions, also as they are typed.
export { arrange, isNumeric, nameColumn, type Around } from './arrange';
export {
	conditionFault,
	conditionFrom,
	conditionsFrom,
	inConditionWords,
	type Condition,
	type Named
} from './conditions';
