// views: the shapes in which a project is shown; the server fills them, the pages draw them.
export type {
	AlikeView,
	AroundView,
	ChoiceList,
	CompareColumn,
	CompareRow,
	CompareView,
	PocketItem,
	TakenView,
	Choice,
	Column,
	EncodingView,
	FieldRow,
	ImportState,
	Named,
	SourceView,
	TableRow,
	TableView,
	TextRow,
	Ticket
} from './types';
