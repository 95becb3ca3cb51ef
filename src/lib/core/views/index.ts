// views: the shapes in which a project is shown; the server fills them, the pages draw them.
export type {
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
