// views: the shapes in which a project is shown; the server fills them, the pages draw them. Type-only: nothing of the
// server reaches the browser.
export type { AsOf, RecordAsOf } from './as-of';
export type { Around, MapKind, MapLinkKind, MapLinks, MapPage, MapThings, MapView, MapWay } from './map';
export type { ByteCell, ByteLine, BytesPage } from './bytes';
export type { UpdatedPage } from './updated';
export type { LogRead, Start, StartLook, StartPage } from './start';
export type { Named } from './named';
export type { CarryCard, CarryPage, CarryTrial } from './carry';
export type { BackupView, InGameFile, InGamePage } from './in-game';
export type { ProgramView, SharePage } from './share';
export type { NarrowBy, NarrowPart, NarrowTry, NarrowView } from './narrow';
export type {
	AlikeView,
	AroundView,
	Choice,
	ChoiceList,
	CompareColumn,
	CompareRow,
	CompareView,
	AssetView,
	FieldRow,
	ListView,
	MissingView,
	PocketItem,
	RecipeView,
	RecordingView,
	SourceView,
	TakenView,
	TextRow,
	Ticket,
	ByteSource
} from './record';
export type {
	ChainsView,
	Column,
	ManyView,
	PartsView,
	RangesView,
	SavedView,
	TableEntry,
	TablePageView,
	TableRow,
	TablesView,
	TableView
} from './table';
export type {
	EncodingView,
	FolderEntry,
	FolderList,
	SourcePreview,
	IdentityPage,
	ImportState,
	OpeningState
} from './setup';
export type {
	GuideAnswer,
	GuideChange,
	GuideFieldView,
	GuideIndexView,
	GuideKindView,
	GuideOrder,
	GuidePartView
} from './guide';
export type { ReadingPage, ReadPreview } from './reading';
export type { FirstView } from './first';
export type { ClashesPage, ClashValueView, ClashView, LayersPreview, OrderView } from './layers';
export type { CodeLine, CodePlace, FunctionView, InsidePage, LiteralView } from './inside';
export type { PageScript, PagesPage, PageView } from './pages';
export type { OptionCell, OptionsChecked, OptionsPage, OptionThing, OptionView } from './options';
export type { PatchedFile, PatchView } from './patch';
export type { NewFilePage, TextPage, WrittenLike } from './text';
export type {
	ClassField,
	EventView,
	LoadView,
	ScriptPlace,
	ScriptsPage,
	TryPage,
	TryParameter
} from './scripts';
export type {
	ScenarioCard,
	ScenarioOutcome,
	ScenarioPart,
	ScenarioPlace,
	ScenarioRun,
	ScenariosPage,
	ScenarioSweep
} from './scenarios';
export type { LanguagesView, GiveView, TakeView, WordsView } from './words';
