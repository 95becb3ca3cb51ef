// carry: what a new version of the game changed, record by record and field by field.
export { changesBetween, type FieldChange, type GameChanges, type RecordChange } from './changes';
