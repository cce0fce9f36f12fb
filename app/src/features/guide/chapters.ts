/** The text of the guide page. The longer one, with pictures, is in docs/guide. */
interface Chapter {
	id: string;
	title: string;
	parts: { text: string; code?: true }[];
}

const p = (text: string) => ({ text });
const code = (text: string) => ({ text, code: true as const });

export const CHAPTERS: readonly Chapter[] = [
	{
		id: 'first',
		title: 'The first answer',
		parts: [
			p(
				'Open “Quay at Harl” from the list of projects. The query Gaze stands across the top as a sentence; every marked part of it can be clicked and changed, and “+” says more.',
			),
			p(
				'At the head of the ladder on the right stands what the query selects, with the prompt a player would get. Below it every other object stands under the first test it failed, with the figure by which it failed. Point at a row, and the reason is drawn on the stage: the missing distance, the blocked way, how far it lost by.',
			),
		],
	},
	{
		id: 'scene',
		title: 'Building a scene',
		parts: [
			p(
				'Add, above the stage, lists the shapes. Choose one and draw it on the ground at its size, or press Drop to have it placed. Click an object to take it in hand: the slip beside it holds every value, and the handles on it pull height, heading and sizes. Drag it to move it; it rests on other objects’ faces and on the grid unless Snap is off or Alt is held.',
			),
			p(
				'Shift-click takes several in hand. Then the slip changes what they have in common, lines them up, spreads them out, groups them or attaches them to the last one taken. The roster (r) finds objects by name, tag:, layer:, state: or verdict:.',
			),
		],
	},
	{
		id: 'queries',
		title: 'Asking',
		parts: [
			p(
				'New, above the list of queries, makes one of each kind with sensible parts. Draw makes it by hand in two gestures: from here, along there. The square, round and cross handles on the stage pull its length, aim, volume, range, view and start.',
			),
			p('To start one query where another one hits, click the start in its sentence and choose “the hit of a query”.'),
		],
	},
	{
		id: 'eye',
		title: 'The eye',
		parts: [
			p(
				'The picture at the lower right is what the query’s camera or its asker sees. Drag the cursor in it, or the aim of a ray. Walk lets the arrow keys move whoever looks; the answers follow. Swap gives the eye the room of the stage.',
			),
		],
	},
	{
		id: 'filters',
		title: 'Filters',
		parts: [
			p(
				'The Filters view shows all queries against all layers in one table: chooses, stops, both, passes. Click a cell to go through them, drag to paint. Bit numbers and masks stand beside, to copy into the game. Below are the tags as families, with what carries and what asks for each, the sides with their stances, and the states.',
			),
		],
	},
	{
		id: 'moments',
		title: 'Moments',
		parts: [
			p(
				'A moment is a named variation of the scene: the crank jammed, the crate carried. Choose it at the top right and change things: what you do is recorded in the moment, and “records” says so. The Moments window lists what each one changes, and takes single changes out again.',
			),
		],
	},
	{
		id: 'checks',
		title: 'From a question to a check on your build server',
		parts: [
			p(
				'When an answer is right, press “Keep this answer” under it in the ladder. From then on it is checked on every change, at that moment. The Checks view shows every query at every moment; a failing cell says what was wanted and what was got, and opens the bench at exactly that moment.',
			),
			p(
				'Export the project and commit the file beside the level. The build server runs the same checks with the same core:',
			),
			code('npx frelk check levels/quay.frelk.json --junit results.xml'),
			p(
				'It ends with 0 when all hold, 1 when one fails, 2 when a file is wrong. With --shard 1/4 four machines share the work. Or send the project to a running Frelk:',
			),
			code(
				"curl -s -H 'Content-Type: application/json' --data-binary @levels/quay.frelk.json http://127.0.0.1:4173/api/check",
			),
			p(
				'“Quay at Harl, before the fix” in the list of examples has two failing checks. The guide in docs/guide walks through their repair.',
			),
		],
	},
];
