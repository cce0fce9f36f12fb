/**
 * The project file `frelk/1` as TypeScript has it: what `readProject` gives and `buildWorld` takes. Lengths in metres, angles in degrees,
 * times in seconds. The schemas of `schema.ts` check the same and say what is wrong; a test holds the two together.
 */

/** x, y, z. */
export type Vec3 = readonly [number, number, number];
/** x, y. */
export type Vec2 = readonly [number, number];
/** The value of a state: yes or no, or a number. */
export type StateValue = boolean | number;
/** How one side regards another. */
export type Stance = 'hostile' | 'neutral' | 'friendly';

/** What every item of the file has. */
interface Item {
	/** 1 to 64 lower-case letters, digits and hyphens, no hyphen first; unique among its kind. */
	id: string;
	name?: string;
	/** Kept as it is, and looked at by nobody: for tools of your own. */
	extras?: unknown;
}

/** A project file: a scene, the queries asked of it, moments, and checks. */
export interface Project {
	format: 'frelk/1';
	id: string;
	name: string;
	notes?: string;
	extras?: unknown;
	scene: Scene;
	queries: Query[];
	moments?: Moment[];
	checks?: AnyCheck[];
	runs?: Run[];
	effects?: Effect[];
	maps?: QueryMap[];
}

/** What stands where. Y up and −Z ahead; flat: X right, Y up, Z the depth. */
export interface Scene {
	kind: 'space' | 'flat';
	/** Distances that differ by no more are equal, metres; 0.001 where it is left out. */
	tieSlack?: number;
	/** States of the scene itself, by name. */
	states?: Record<string, StateValue>;
	/** At most 32; an object is on one, and each of its shapes can be on another. */
	layers: Item[];
	/** Tags lie under others: who asks for `handle` is given a `crank` under it. */
	tags: (Item & { under?: string })[];
	sides?: Item[];
	/** How sides regard each other where it is not neutral. */
	stances?: { from: string; to: string; stance: Stance; extras?: unknown }[];
	objects: SceneObject[];
	cameras: Camera[];
	extras?: unknown;
}

/** An object of the scene, its place under its parent. */
export interface SceneObject extends Item {
	/** The object it hangs on: place, turn and scale are that one's axes'. */
	parent?: string;
	position?: Vec3;
	/** Yaw, pitch, roll: about Y, then X, then Z. */
	rotation?: Vec3;
	scale?: Vec3;
	layer: string;
	tags?: string[];
	side?: string;
	/** Whether it is there at all, with all that hangs on it; true where it is left out. */
	active?: boolean;
	states?: Record<string, StateValue>;
	/** Higher is taken first by the rule `priority`; 0 where it is left out. */
	priority?: number;
	/** The point that is looked at and measured to, in its own axes; its origin where it is left out. */
	focus?: Vec3;
	prompt?: string;
	action?: string;
	/** Points of it that can be seen or hidden: head, hands, wheels. Without any its focus is the one. */
	marks?: Mark[];
	/** From which side it lets itself be approached, and within how many degrees of it. */
	approach?: { from: Vec3; within: number };
	/** The object it answers for: who is touched here is that one. */
	standsFor?: string;
	shapes?: Shape[];
}

/** A point of an object that can be seen or hidden, in its own axes. */
export interface Mark {
	id: string;
	at: Vec3;
}

interface Box {
	kind: 'box';
	/** Whole edges along X, Y and Z. */
	size: Vec3;
}
interface Sphere {
	kind: 'sphere';
	radius: number;
}
/** Upright along Y; its height counts the round ends. */
interface Capsule {
	kind: 'capsule';
	radius: number;
	height: number;
}
/** Upright along Y. */
interface Cylinder {
	kind: 'cylinder';
	radius: number;
	height: number;
}
/** The convex hull of points. */
interface Hull {
	kind: 'hull';
	points: Vec3[];
}
/** A surface of triangles, hollow inside. */
interface Mesh {
	kind: 'mesh';
	/** x, y, z of each corner, one after the other. */
	vertices: number[];
	/** Three corners a triangle, counted from 0. */
	triangles: number[];
}
interface Rect {
	kind: 'rect';
	size: Vec2;
}
interface Circle {
	kind: 'circle';
	radius: number;
}
/** Convex, its corners one after the other. */
interface Polygon {
	kind: 'polygon';
	points: Vec2[];
}

/** How a shape is set on its object. */
interface Mounted extends Item {
	/** Its place in the object's axes. */
	at?: Vec3;
	rotation?: Vec3;
	/** `solid` where it is left out; a `sensor` stops nothing unless a query says so. */
	role?: 'solid' | 'sensor';
	/** The object's own where it is left out. */
	layer?: string;
	enabled?: boolean;
}

/** A shape of an object, at its own place and turn in the object's axes. */
export type Shape = Mounted & (Box | Sphere | Capsule | Cylinder | Hull | Mesh | Rect | Circle | Polygon);
/** The kind of a shape. */
export type ShapeKind = Shape['kind'];
/** A shape a query sends out or holds: as that of an object, without name, place and role. */
export type VolumeShape = Box | Sphere | Capsule | Cylinder | Hull | Rect | Circle | Polygon;

/** The volume of an overlap that takes the shapes of an object, grown by metres on every side. */
export interface LikeShape {
	like: string;
	grow?: number;
}

/** A camera: perspective with `fov` degrees from lower to upper edge, or orthographic with `height` metres. */
export type Camera = Item & {
	/** The object it is on; its place and turn are that one's axes'. */
	object?: string;
	position: Vec3;
	rotation?: Vec3;
	/** How far it sees; 100 m where it is left out. */
	far?: number;
} & ({ projection: 'perspective'; fov: number } | { projection: 'orthographic'; height: number });

/** A place: exactly one of a point, an object's origin or focus, a camera, or the hit of another query. */
export interface Anchor {
	point?: Vec3;
	object?: string;
	/** With `object`: from its origin, in its axes. */
	offset?: Vec3;
	focus?: string;
	camera?: string;
	/** The point another query hit; without one this query waits. */
	hitOf?: string;
	/** With `hitOf`: by so much off the surface that was hit. */
	off?: number;
}

/** A direction: along an axis, of an object or camera or of the world, or toward a place. */
export interface Direction {
	along?: Vec3;
	of?: string;
	toward?: Anchor;
}

/** A state that must be, or lie between two limits, neither of them included. */
export interface Condition {
	of: 'target' | 'asker' | 'scene';
	state: string;
	is?: StateValue;
	above?: number;
	below?: number;
}

/** What is prompted and done where a tag or conditions, at least one of the two, say so; null takes the object's own away. */
export interface Outcome {
	tag?: string;
	when?: Condition[];
	action?: string | null;
	/** `{name}` stands for the name of the object answered for. */
	prompt?: string | null;
}

/** A rule of choice with its slack, in the rule's own unit. */
export interface Rule {
	rule: 'distance' | 'aim' | 'cursor' | 'priority' | 'direct' | 'listed' | 'seen';
	/** Those no farther apart are equal by it. */
	slack?: number;
	/** Of `distance`: where it is measured to; the contact where it is left out. */
	to?: 'contact' | 'focus';
}
/** The name of a rule of choice. */
export type RuleName = Rule['rule'];

/** What queries of every kind have. */
interface Asked extends Item {
	/** Who asks: never selected, with all that hangs on it. */
	asker?: string;
	ignore?: string[];
	enabled?: boolean;
	/** Who may be chosen; all where it is left out. */
	selects?: {
		layers?: 'all' | string[];
		tags?: { any?: string[]; all?: string[]; none?: string[] };
		stances?: Stance[];
		when?: Condition[];
		roles?: ('solid' | 'sensor')[];
	};
	range?: {
		min?: number;
		max?: number;
		/** Measured from here instead of from where the query begins. */
		from?: Anchor;
		to?: 'contact' | 'focus';
		/** Whether heights are left out. */
		flat?: boolean;
	};
	/** The half-angle of the cone or sector in which the focus must lie. */
	view?: { within: number; about?: Direction; flat?: boolean };
	approach?: 'respect' | 'ignore';
	/** What stands in the way; without it nothing does. */
	sight?: {
		blockers?: 'all' | string[];
		sensors?: boolean;
		from?: Anchor;
		to?: 'focus' | 'contact' | 'marks';
		/** With `to` marks: how many of them have to be seen; 1 where it is left out. */
		least?: number | 'all';
	};
	/** Whether a shape in which the query starts is touched at 0, or passed through; `skip` where it is left out. */
	startInside?: 'skip' | 'count';
	choose?: { take?: 'all' | number; by?: Rule[] };
	/** Action and prompt of what is selected: of the first that has its tag and whose conditions all hold. */
	outcomes?: Outcome[];
}

interface Assist {
	by: 'angle' | 'distance' | 'pixels';
	within: number;
}

/** Where a ray or a sweep goes: from a place along a direction by a length, or to another place. */
interface OnPath {
	from: Anchor;
	aim?: Direction;
	length?: number;
	to?: Anchor;
	/** In place of `length` and `to`: it is thrown. */
	arc?: Arc;
}

/** How a thing flies that is thrown: by its first velocity and gravity, asked step by step. */
export interface Arc {
	/** Of the first instant, m/s. */
	speed: number;
	/** Downward (flat: along −Y), m/s²; 9.81 where it is left out. */
	gravity?: number;
	/** How long it flies, seconds; 5 where it is left out. */
	time?: number;
	/** Seconds from one straight cast to the next; 1/60 where it is left out. */
	step?: number;
	/** In place of `aim`: the place the parabola passes through. */
	at?: Anchor;
	/** With `at`: the steeper of the two ways there. */
	high?: boolean;
}

/** What lies on a line. */
export interface RayQuery extends Asked, OnPath {
	kind: 'ray';
	assist?: Assist;
}

/** What lies under a cursor in a camera's picture. */
export interface PickQuery extends Asked {
	kind: 'pick';
	camera: string;
	/** Width and height of the picture, pixels. */
	viewport: Vec2;
	/** Pixels from the top left; the middle where it is left out. */
	cursor?: Vec2;
	length?: number;
	assist?: Assist;
}

/** What a shape touches on its way. */
export interface SweepQuery extends Asked, OnPath {
	kind: 'sweep';
	shape: Sphere | Box | Capsule | Circle | Rect;
	rotation?: Vec3;
}

/** What lies in a volume. */
export interface OverlapQuery extends Asked {
	kind: 'overlap';
	at: Anchor;
	shape: VolumeShape | LikeShape;
	offset?: Vec3;
	rotation?: Vec3;
	/** Whether the volume turns with what it hangs on. */
	turns?: boolean;
	/** Whether the volume may stand here: how deep it sticks, and by `on` whether what is under it bears it. */
	room?: {
		/** Layers that bear, and how far above and below its base they may lie, metres; 0.05 where that is left out. */
		on?: { layers: 'all' | string[]; within?: number };
	};
}

/** What a swing hits while its boxes are open. */
export interface HitboxQuery extends Asked {
	kind: 'hitbox';
	asker: string;
	/** In the asker's axes; open from and until so many seconds after the swing begins. */
	boxes: { shape: VolumeShape; at?: Vec3; rotation?: Vec3; from?: number; until?: number }[];
	/** Whether a swing hits each object once. */
	once?: boolean;
}

/** A query of any kind: where it goes, what it may choose, and how it chooses. */
export type Query = RayQuery | PickQuery | SweepQuery | OverlapQuery | HitboxQuery;
/** The kind of a query. */
export type QueryKind = Query['kind'];
/** A query of one kind. */
export type QueryOf<K extends QueryKind> = Extract<Query, { kind: K }>;

/** What a moment, a key or an effect says of one object; null takes a field away. */
export interface Overlay {
	position?: Vec3;
	rotation?: Vec3;
	scale?: Vec3;
	active?: boolean;
	parent?: string | null;
	states?: Record<string, StateValue>;
	layer?: string;
	tags?: string[];
	side?: string | null;
	priority?: number;
	prompt?: string | null;
	action?: string | null;
	/** By the ids of its shapes. */
	shapes?: Record<string, { enabled: boolean }>;
}

/** The scene at another time: what differs from the scene as laid out, or from the moment it is on. */
export interface Moment extends Item {
	on?: string;
	objects?: Record<string, Overlay>;
	states?: Record<string, StateValue>;
	cameras?: Record<string, { position?: Vec3; rotation?: Vec3 }>;
	queries?: Record<string, { cursor?: Vec2; enabled?: boolean }>;
}

/** What is expected of an answer: exactly one of `selects`, `none`, `tie`, `off` and `room`, and what else is given. */
export interface Expect {
	selects?: string[];
	order?: 'any' | 'exact';
	none?: true;
	tie?: string[];
	off?: true;
	/** Whether there is room: nothing in the way, and borne everywhere where that is asked. */
	room?: boolean;
	not?: string[];
	action?: string;
	point?: { near: Vec3; within: number };
	blocked?: { object: string; by: string };
}

/** What a query should answer at a moment. */
export interface Check extends Item {
	query: string;
	moment?: string;
	expect: Expect;
}

/** What is expected of a run: exactly one of `sequence`, `at`, `hits`, `never`, `changes`, `missed`, `held` and `broken`. */
export interface RunExpect {
	sequence?: (string | null)[];
	at?: number;
	selects?: string[];
	order?: 'any' | 'exact';
	none?: true;
	tie?: string[];
	hits?: string[];
	never?: string[];
	changes?: { max: number };
	missed?: number;
	/** What was held long enough, in order. */
	held?: string[];
	broken?: { max: number };
}

/** What a watch entry or a swing of a run should do. */
export interface RunCheck extends Item {
	run: string;
	watch?: string;
	/** Its place among the swings, from 0. */
	swing?: number;
	expect: RunExpect;
}

/** What is expected of a map: exactly one of `share`, `circle`, `never` and `tied`. */
export interface MapExpect {
	object?: string;
	share?: { min?: number; max?: number };
	circle?: { min: number };
	never?: string[];
	tied?: { max: number };
}

/** What a map should show. */
export interface MapCheck extends Item {
	map: string;
	expect: MapExpect;
}

/** A check of any kind. */
export type AnyCheck = Check | RunCheck | MapCheck;

/** A query asked over a grid: cursor positions, places to stand, or directions. */
export interface QueryMap extends Item {
	query: string;
	kind: 'cursor' | 'floor' | 'aim';
	moment?: string;
	/** Of cursors: pixels a cell. */
	cell?: number;
	area?: { min: Vec2; max: Vec2 };
	/** Metres between places, degrees between directions. */
	every?: number;
	headings?: number;
	y?: number;
	clear?: { layers: 'all' | string[] };
	yaw?: Vec2;
	pitch?: Vec2;
}

/** What moves, or changes, over the time of a run: exactly one of an object, a camera, a query and the scene. */
export interface Track {
	object?: string;
	camera?: string;
	query?: string;
	scene?: true;
	keys: (Overlay & { t: number; cursor?: Vec2; enabled?: boolean })[];
}

/** A query watched over a run, with the memory the game has of it. */
export interface WatchEntry {
	id?: string;
	query: string;
	keeps?: 'all' | 'one' | 'lock';
	forgets?: 'own' | 'any';
	/** Of a lock: so long it is kept while it is no contender, seconds; 0 where it is left out. */
	patience?: number;
	/** The scene is as it was so many seconds before, but for who asks; 0 where it is left out. */
	late?: number;
	/** By how much another has to be better before it is taken instead. */
	stick?: { distance?: number; aim?: number; cursor?: number; priority?: number; seen?: number };
}

/** A press: it acts at once, once it has been held, or on a lock. */
export interface Press {
	watch: string;
	at: number;
	/** So long what is selected has to stay, seconds. */
	hold?: number;
	/** Of a lock: to take, to go to the next on the right or the left, to let go. */
	do?: 'lock' | 'next' | 'previous' | 'release';
}

/** A run-through: what moves and is pressed over a time, and which queries are watched meanwhile. */
export interface Run extends Item {
	moment?: string;
	duration: number;
	step: number;
	/** Parts into which the time between two steps is cut to look between them. */
	between?: number;
	tracks?: Track[];
	watch?: WatchEntry[];
	swings?: { query: string; at: number; late?: number }[];
	presses?: Press[];
}

/** What an action does to the scene, line by line; a line has exactly one of `set`, `add`, `carriedBy` and `release`. */
export interface Effect {
	action: string;
	do: {
		of: 'target' | 'asker' | 'scene' | { object: string };
		set?: Overlay;
		add?: Record<string, number>;
		carriedBy?: 'target' | 'asker' | { object: string };
		at?: Vec3;
		release?: true;
	}[];
	extras?: unknown;
}
