/** What each key of a project file says, for editors that complete keys: the format in a line each. */

/** A meaning, or one by what the key stands in; `''` where nothing else fits. */
type Meaning = string | Readonly<Record<string, string>>;

const PLACE =
	'Where: a point, an object with an offset, a camera, the focus of an object, or the hit of another query.';

const MEANINGS: Readonly<Record<string, Meaning>> = {
	about: 'The axis of the view: along a direction, or of an object. Without it, the query’s own.',
	above: 'The state is a number greater than this.',
	action: 'What is done to the object when it is selected.',
	active: 'Whether it is there at all: what is not is asked by no query and blocks nothing.',
	add: 'Adds to a state, which is a number.',
	aim: 'The direction: along a vector (of an object or the world), or toward a place.',
	all: 'Has each of these tags, or one under it.',
	along: 'A direction as a vector; with an object, in its axes.',
	any: 'Has one of these tags, or one under it.',
	approach: {
		objects: 'The side from which it is reached: within so many degrees of a direction in its own axes.',
		'': 'Whether the approach that objects ask for counts: respect or ignore.',
	},
	area: 'The corners of the floor that is asked, metres: min and max.',
	asker: 'The object that asks: never selected, and the one whose side and stances count.',
	assist: 'Aim assist: what lies within so much of the path counts as touched where nothing is.',
	at: {
		shapes: 'Where in the object the shape lies, metres in its axes.',
		boxes: 'Where the box of the swing lies, from the query’s place.',
		swings: 'When, seconds.',
		presses: 'When, seconds.',
		expect: 'The instant, seconds.',
		do: 'Where in the one who carries it, metres.',
		'': PLACE,
	},
	below: 'The state is a number less than this.',
	between: 'At how many instants between two steps one looks whether the steps miss something: 1 to 64.',
	blocked: 'The object is to be blocked, by whom is said.',
	blockers: 'Layers that stand in the way: all, or named.',
	boxes: 'The volumes of a swing, each open for a stretch of time.',
	by: {
		choose: 'Rules, in order: the first that tells two apart decides.',
		assist: 'Of what kind the limit is: angle (degrees), distance (metres) or pixels.',
		blocked: 'The object that blocks it.',
	},
	camera: 'A camera, by its id.',
	cameras: { scene: 'Cameras: what picks look through.', moments: 'Cameras that stand otherwise at this moment.' },
	carriedBy: 'Who carries it from then on: it hangs on that one.',
	cell: 'The width and height of a cell, pixels.',
	changes: 'How often what is selected may change.',
	checks: 'What the answers are to be.',
	choose: 'Which of several contenders is taken.',
	circle: 'The largest circle of cells in which the object comes first, pixels across.',
	clear: 'Places where the asker would touch these layers are left out.',
	cursor: 'Pixels from the top left of the viewport.',
	distance: 'The limit for the rule distance, metres.',
	do: 'What happens.',
	duration: 'How long the run is, seconds.',
	effects: 'What actions do to the scene in a run.',
	enabled: { shapes: 'Whether the shape is there.', '': 'Whether the query is asked.' },
	every: 'How far places (metres) or directions (degrees) lie apart.',
	expect: 'What is wanted of the answer.',
	extras: 'Room for other programs: kept, and not looked at.',
	far: 'How far the camera sees, metres.',
	flat: 'Measured in the plane of the ground alone.',
	focus: {
		objects: 'The point that is looked at and aimed at, metres in its axes.',
		'': 'The focus of an object, by its id.',
	},
	forgets: 'When the slot is emptied: own (what it holds is no contender any more) or any (some contender was lost).',
	format: 'Always "frelk/1".',
	fov: 'Vertical angle of the camera’s view, degrees.',
	from: {
		queries: 'Where it begins.',
		approach: 'The direction from which it is reached, in the object’s axes.',
		stances: 'The side that stands so.',
		range: 'From where one measures; without it the distance of the contact.',
		sight: 'From where one looks; without it the apex of the query.',
		boxes: 'When the box begins, seconds.',
	},
	grow: 'How much wider it is all around, metres.',
	headings: 'In how many directions the asker is turned at each place.',
	height: { cameras: 'What an orthographic camera shows from bottom to top, metres.', '': 'The height, metres.' },
	hitOf: 'The hit of another query, by its id; `off` says how far from it.',
	hits: 'The objects a swing hits.',
	id: 'Its name in the file: small letters, digits and dashes.',
	ignore: 'Objects that are left out, as if they were not there.',
	is: 'The state is this.',
	keeps: 'all: the answer’s own; one: what a single remembered object holds.',
	keys: 'What holds from an instant on, or is passed through.',
	kind: {
		scene: 'space: three dimensions; flat: a picture, or a scene from above.',
		queries: 'ray, pick, sweep, overlap or hitbox.',
		maps: 'cursor, floor or aim.',
		'': 'The form of the shape.',
	},
	layer: 'The layer it is on.',
	layers: {
		scene: 'The layers: a bit each, in this order.',
		selects: 'Layers that can be selected: all, or named.',
		clear: 'Layers that take places away.',
	},
	length: 'How far it goes, metres.',
	like: 'The object whose shapes are asked as a volume.',
	map: 'The map, by its id.',
	maps: 'Queries asked over a grid.',
	max: 'At most.',
	min: 'At least.',
	missed: 'How many may be missed between the steps.',
	moment: 'The moment at which it is asked; the scene as laid out without it.',
	moments: 'States of the scene: what is otherwise than as laid out.',
	name: 'What people call it.',
	near: 'The point that is wanted; `within` says how near.',
	never: 'Objects that are at no time, or nowhere, selected.',
	none: { tags: 'Has none of these tags, nor one under them.', expect: 'Nothing is selected.' },
	not: 'The object is not selected.',
	notes: 'What people write to each other.',
	object: 'An object, by its id.',
	objects: { scene: 'What there is.', moments: 'Objects that are otherwise at this moment.' },
	of: {
		about: 'The object in whose axes the direction is told.',
		aim: 'The object in whose axes the direction is told.',
		do: 'Who is changed: target, asker, scene or an object.',
		when: 'Whose state: the target’s, the asker’s or the scene’s.',
	},
	off: { expect: 'The query is off.', '': 'How far from the hit, along its normal, metres.' },
	offset: 'From there, metres in its axes.',
	on: 'The moment it stands on: what that one says holds here too.',
	once: 'Whether a swing hits each object once.',
	order: 'Whether the order counts: any or exact.',
	outcomes: 'What selecting does, by tag or by conditions; the first that fits.',
	parent: 'What it hangs on: it goes where that goes.',
	pitch: 'Degrees up from level: from, to.',
	point: { expect: 'Where the contact is.', '': 'A place in the world, metres.' },
	points: 'The corners, metres.',
	position: 'Where it is, metres: X, Y up, Z.',
	presses: 'When the player presses.',
	priority: { stick: 'The limit for the rule priority.', '': 'Who goes first by the rule priority: the larger.' },
	projection: 'perspective or orthographic.',
	prompt: 'What is shown when it is selected; {name} is its name.',
	queries: { '': 'What is asked.', moments: 'Queries that are otherwise at this moment.' },
	query: 'The query, by its id.',
	radius: 'The radius, metres.',
	range: 'How near and how far: of the contact, or from a place.',
	release: 'Who carries it lets it go.',
	role: 'solid, or sensor: a trigger, which blocks only where that is asked for.',
	roles: 'Shapes that can be met: solid, sensor or both.',
	rotation: 'Degrees about X, Y and Z, in that order.',
	rule: 'distance, aim, cursor, priority, direct or listed.',
	run: 'The run-through, by its id.',
	runs: 'The scene over time.',
	scale: 'How much larger, along its axes.',
	scene: { '': 'What there is.', tracks: 'States of the scene over time.' },
	selects: {
		expect: 'The object that is selected.',
		'': 'What can be selected: by layers, roles, tags, stances, states.',
	},
	sensors: 'Whether sensors stand in the way too.',
	sequence: 'What is selected over the run, in order.',
	set: 'Fields that are otherwise from then on.',
	shape: 'The shape of the query.',
	shapes: 'Of what it is made.',
	share: 'In which share of the map the object is selected, 0 to 1.',
	side: 'The side it is on.',
	sides: 'Who stands with whom.',
	sight: 'What may stand in the way between the one who looks and the object.',
	size: 'Width, height and depth, metres (flat: width and height).',
	slack: 'Differences up to this are none.',
	stance: 'hostile, neutral or friendly.',
	stances: { scene: 'How sides stand to each other.', selects: 'Stances of the asker’s side that can be selected.' },
	standsFor: 'The object that is selected in its place.',
	startInside: 'What of things the path begins in: skip or count.',
	state: 'The state, by its name.',
	states: { scene: 'Which states there are, with what they are at first.', '': 'States that are otherwise.' },
	step: 'How long a step is, seconds.',
	stick: 'Limits by rule: what is selected stays while a contender is better by no more.',
	swing: 'Which swing of the run, counted from 0.',
	swings: 'When a hitbox is swung.',
	t: 'The instant, seconds.',
	tag: 'The tag it needs.',
	tags: { scene: 'The tags there are.', selects: 'Tags that can be selected.', '': 'The tags it has.' },
	take: 'How many are selected: a number, or all.',
	tie: 'These are tied.',
	tied: 'In which share of the map answers may be tied.',
	tieSlack: 'Distances that differ by no more are ties, metres.',
	to: {
		queries: 'Where the path ends, in place of aim and length.',
		range: 'To what is measured: contact or focus.',
		sight: 'To what one looks: focus or contact.',
		by: 'To what the rule distance measures: contact or focus.',
		stances: 'The side it stands so to.',
	},
	toward: 'The place it goes to.',
	tracks: 'What moves or changes over the run, by keys.',
	triangles: 'Three places in `vertices` each.',
	turns: 'Whether the volume turns with what it hangs on.',
	under: 'The tag it is a kind of.',
	until: 'When the box ends, seconds.',
	vertices: 'Three numbers a corner, metres.',
	view: 'The cone in which it must lie, degrees either way.',
	viewport: 'Width and height of the picture, pixels.',
	watch: { runs: 'Queries asked at each step.', '': 'The entry that is watched, by its id.' },
	when: 'Conditions that must hold.',
	within: 'How far at most: degrees or metres.',
	y: 'The height of the floor map, metres.',
	yaw: 'Degrees to the side: from, to.',
};

/** @returns what a key says, in what it stands; undefined for one that speaks for itself */
function meaningOf(key: string, holder: string): string | undefined {
	const meaning = MEANINGS[key];
	return typeof meaning === 'object' ? (meaning[holder] ?? meaning['']) : meaning;
}

type Node = { [key: string]: unknown };
/** Keywords under which the schemas of a value's parts stand, which have no name of their own. */
const UNNAMED = new Set(['items', 'anyOf', 'oneOf', 'allOf', 'prefixItems']);

/** @param schema of a project, to whose keys their meanings are added in place */
export function withMeanings(schema: unknown, holder = ''): void {
	if (Array.isArray(schema)) for (const part of schema) withMeanings(part, holder);
	if (typeof schema !== 'object' || schema === null || Array.isArray(schema)) return;
	for (const [key, value] of Object.entries(schema as Node)) {
		if (key === 'properties')
			for (const [name, of] of Object.entries(value as Node)) {
				withMeanings(of, name);
				const meaning = meaningOf(name, holder);
				if (meaning !== undefined) (of as Node).description = meaning;
			}
		else if (UNNAMED.has(key)) withMeanings(value, holder);
		else if (key === 'additionalProperties') withMeanings(value, holder);
	}
}
