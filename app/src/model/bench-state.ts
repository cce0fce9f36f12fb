/** What the state of a bench holds: its document, its view, and what is derived from both. */
import type { Finding, Project, QueryKind, RobustnessMargin, Shape } from '@frelk/core';
import type { Merged, ReferenceKind, Renaming } from '@frelk/core/editing';
import type { StoreApi } from 'zustand';
import type { CheckState } from './check-results';
import type { Derived } from './derived';

/** `gone`: the project was deleted elsewhere, and is not written any more. */
export type Saving = 'saved' | 'waiting' | 'failed' | 'gone';

/** How a project in a file on disk stands to its file. */
export type DiskStanding = { name: string } & (
	| { at: 'written' /** What was taken in from the file a moment ago, in words. */; said?: string }
	| { at: 'writing' }
	| { at: 'failed'; why: string }
	/** The file was changed by someone else, and is no project now: the last good state stays. */
	| { at: 'broken'; lines: readonly string[]; hash: string }
	/** `now`: the key of the file that has its bytes since. */
	| { at: 'gone'; now: string | null }
	| { at: 'read-only' }
	/** Edits of an earlier page never reached the file, and the file is another one now. */
	| { at: 'held' }
	| { at: 'away'; why: string }
);

export interface Step {
	label: string;
	project: Project;
	/** Another tab's changes have been laid over it since: it may not go together with them. */
	mixed?: boolean;
}

export interface DocumentState {
	project: Project;
	past: Step[];
	future: Step[];
	/** The project before the gesture that is under way, or null. */
	gesture: { label: string; before: Project } | null;
	moment: string | null;
	saving: Saving;
	/** Why it is not saved, in words. */
	unsavedFor: string | null;
	/** Null for a project of the browser. */
	disk: DiskStanding | null;
	/** What both this tab and another changed. */
	clash: { what: string[]; undo: boolean; stands: 'mine' | 'theirs' } | null;
	/** What the last refused edit was refused for. */
	refusal: string | null;

	edit: (label: string, recipe: (draft: Project) => void) => void;
	/** Edits the project itself, whatever moment is looked at. */
	editPlain: (label: string, recipe: (draft: Project) => void) => void;
	/** Takes a whole new state of the project as one step of the history. @param renaming what has another id in it */
	put: (label: string, project: Project, renaming?: Renaming) => void;
	/** Shows another state of the project, without a step of the history: for a bench that follows something else. */
	stand: (project: Project) => void;
	/** Opens a gesture: edits until `endGesture` become one step of the history. */
	beginGesture: (label: string) => void;
	endGesture: () => void;
	/** Says which gesture is under way: for a bench that does with it what it likes. */
	hold: (gesture: DocumentState['gesture']) => void;
	cancelGesture: () => void;
	undo: () => void;
	redo: () => void;
	/** Brings back a history that was kept. */
	restoreHistory: (past: Step[], future: Step[]) => void;
	/** Looks at the scene at a moment; null is the scene as laid out. */
	lookAt: (moment: string | null) => void;
	setSaving: (saving: Saving, why?: string) => void;
	/** Takes in what another tab has done, here and in all states of the history. */
	takeIn: (merged: Merged, stands?: 'mine' | 'theirs') => void;
	setDisk: (disk: DiskStanding | null) => void;
	dismissClash: () => void;
	refuse: (why: string) => void;
	dismiss: () => void;
}

/** What changes the document: a bench that stands elsewhere hands in its own (`createBench`). */
export type Editing = Pick<
	DocumentState,
	'edit' | 'editPlain' | 'put' | 'beginGesture' | 'endGesture' | 'cancelGesture' | 'undo' | 'redo' | 'refuse'
>;

/** Publishes a change with what is derived from it. */
export type Publish = (change: Partial<BenchState>) => void;

/** What the hand does on the stage; a thing is one of those ready to be placed, or `own:` and the id of one kept here. */
export type Tool =
	| { kind: 'shape'; shape: Shape['kind'] }
	| { kind: 'ready-made'; readyMade: string }
	| { kind: 'query'; query: QueryKind }
	| { kind: 'measure' };
export type Tint = 'layer' | 'tag' | 'side' | 'verdict';
export type Panel = 'commands' | 'keys' | { delete: { kind: ReferenceKind; ids: string[] } };

export type Dock = 'roster' | 'moments';

/** An object that is to be selected, or is not to be; or any change of the answer, the least first. */
export type Wanted = { object: string; wish: 'select' | 'leave' } | { wish: 'change' };

/** A project as it would be, and by what. */
export interface Preview {
	words: string;
	project: Project;
}

export interface ViewState {
	/** Whether it moves by itself, as a run that is played: what may follow a moment later does. */
	moving: boolean;
	query: string | null;
	/** Objects in hand; the last one picked is the one the card stands by. */
	selection: readonly string[];
	/** The last of the selection, or null. */
	picked: string | null;
	/** What the hand does next on the stage; null is to pick up and move. */
	tool: Tool | null;
	/** By what the stage tints objects. */
	tint: Tint;
	/** A window over the bench. */
	panel: Panel | null;
	/** Whether the first walk is taken: a card on the bench beside which all goes on. */
	walking: boolean;
	/** The panel that lies over the stage where there is no room beside it. */
	drawer: 'queries' | 'ladder' | null;
	/** What stands beside the view for as long as it is wanted. */
	dock: Dock | null;
	/** A camera in hand, where no object is. */
	camera: string | null;
	/** The camera the eye looks through, instead of the query's own; null is the query's. */
	through: string | null;
	/** Where the card lies: over the list of queries, or beside the ladder. */
	cardSide: 'queries' | 'ladder';
	/** Whether the card shows all of an object; its focus can then be pulled on the stage. */
	inDetail: boolean;
	/** How firmly a check of a query holds, drawn while that query is open. */
	firm: { query: string; margins: readonly RobustnessMargin[] } | null;
	/** The part of the sentence that a new query most likely wants next. */
	nextPart: { part: string; open: boolean; nth: number } | null;
	/** Instant of the swing that is looked at, seconds; null for all of it. */
	swing: number | null;
	/** Another number each time a swing is let go. */
	swings: number;
	/** How often what is in hand was to be brought into view. */
	frames: number;
	/** Object whose verdict stays at the head of the ladder, whatever query is open. */
	pinned: string | null;
	/** What is looked for remedies for: that an object is selected, or is not. */
	wanted: Wanted | null;
	/** A change that is looked at before it is taken: what is derived stands as it would be. Any edit ends it. */
	preview: Preview | null;
	/** Object pointed at in the ladder, the roster or on the stage. */
	pointed: string | null;
	move: (moving: boolean) => void;
	/** Takes an object in hand instead of what was, or with it (`also`), or lets it go when it is there already. */
	pick: (object: string | null, also?: boolean) => void;
	pickAll: (objects: readonly string[]) => void;
	use: (tool: Tool | null) => void;
	/** @param open whether its editor opens, rather than only being marked */
	markPart: (part: string | null, open?: boolean) => void;
	tintBy: (tint: Tint) => void;
	show: (panel: Panel | null) => void;
	takeWalk: (walking: boolean) => void;
	/** What is left first, before anything of this bench: where another stands in front of it. @param leave null when it is gone */
	standInFront: (leave: (() => boolean) | null) => void;
	/** Leaves the innermost of first walk, drawer, tool, hand, another eye and dock. @returns whether there was one */
	leave: () => boolean;
	drawOut: (drawer: BenchState['drawer']) => void;
	dockAt: (dock: Dock | null) => void;
	takeCamera: (camera: string | null) => void;
	lookThrough: (camera: string | null) => void;
	dockCard: (side: 'queries' | 'ladder') => void;
	detail: (inDetail: boolean) => void;
	pin: (object: string | null) => void;
	want: (wanted: Wanted | null) => void;
	tryOn: (preview: Preview | null) => void;
	swingAt: (swing: number | null) => void;
	letSwing: () => void;
	/** Has the stage bring what is in hand into view; with nothing in hand the open query. */
	frameHand: () => void;
	showRobustness: (firm: BenchState['firm']) => void;
	point: (object: string | null) => void;
	open: (query: string | null) => void;
}

export interface BenchState extends DocumentState, ViewState {
	key: string;
	/** World and answers of project, moment and query. */
	derived: Derived;
	/** The last run of the checks, or null before the first and where there are none. */
	checked: CheckState | null;
	/** What was last found to be wrong, or worth a look, and in which state of the project; null before. */
	found: { project: Project; list: readonly Finding[] } | null;
	setChecked: (checked: CheckState | null) => void;
	setFound: (found: BenchState['found']) => void;
}

export type BenchStore = StoreApi<BenchState>;
