// A stand-in for a running game, to try traces with: it plays the deck from above with code of its own, and with a fault of its own.
//
//   node examples/stand-in-game.mjs > deck.trace.jsonl
//   node examples/stand-in-game.mjs --live http://127.0.0.1:4173 --token TOKEN [--seconds 20]
//
// Each frame the deckhand walks ahead, a gull crosses his way, and the game asks what he would bump into next ("walk" in the project).
// The fault: the game sends a thin ray where the design has him as wide as he is, so that it does not see what he would only brush.
// With --fixed it sends his whole width, and agrees with Frelk.

const args = process.argv.slice(2);
const option = (name) => (args.includes(name) ? args[args.indexOf(name) + 1] : undefined);
const live = option('--live');
const seconds = Number(option('--seconds') ?? 6);
const width = args.includes('--fixed') ? 0.26 : 0;

const STEP = 1 / 30;
const LENGTH = 4;
/** Round things on the deck: their middles and radii, metres. The gull that flies is moved below. */
const ROUND = [
	['mast', -0.4, 0.1, 0.16],
	['mate', 2.3, -1.9, 0.26],
	['passenger-1', -0.9, 1.6, 0.25],
	['gull-1', -1.05, 0.1, 0.14],
	['gull-2', -1.3, -0.6, 0.14],
	['gull-3', -1.8, 2.95, 0.14],
	['gull-4', 0.35, 0.1, 0.14],
];
/** The wheelhouse shows a straight wall to who comes along the deck. */
const WALL = { id: 'wheelhouse', x: 2.8, low: -1.1, high: 1.1 };

/** Where everyone is at a time. */
function scene(t) {
	return {
		deckhand: [-4.2 + 0.55 * t, 0.1 + 0.5 * Math.sin(0.8 * t)],
		'gull-2': [-1.3, -0.9 + 0.35 * t],
	};
}

/** What the deckhand would bump into: the nearest along +X, with a body as wide as the game believes. */
function ahead([x, y], moved) {
	let best = null;
	for (const [id, ox, oy, r] of ROUND) {
		const [cx, cy] = moved[id] ?? [ox, oy];
		const reach = r + width;
		const off = cy - y;
		if (Math.abs(off) > reach) continue;
		const at = cx - x - Math.sqrt(reach * reach - off * off);
		// What he stands in already is not ahead of him.
		if (at <= 0 || at > LENGTH) continue;
		if (!best || at < best.at) best = { id, at };
	}
	const wall = WALL.x - width - x;
	if (y > WALL.low && y < WALL.high && wall > 0 && wall <= LENGTH && (!best || wall < best.at))
		best = { id: WALL.id, at: wall };
	return best?.id ?? null;
}

function lineAt(t) {
	const moved = scene(t);
	const objects = Object.fromEntries(
		Object.entries(moved).map(([id, [x, y]]) => [id, { position: [x, y, 0.4], rotation: [0, 0, 0], world: true }]),
	);
	const got = ahead(moved.deckhand, moved);
	return JSON.stringify({
		t: Number(t.toFixed(4)),
		objects,
		asked: [{ query: 'walk', got: got === null ? null : [got] }],
	});
}

const head = JSON.stringify({ format: 'frelk-trace/1', project: 'deck-from-above', clock: 's' });

if (live === undefined) {
	console.log(head);
	for (let k = 0; k * STEP <= seconds; k++) console.log(lineAt(k * STEP));
} else {
	const address = new URL('/api/trace?project=deck-from-above', live);
	const send = async (body) => {
		const reply = await fetch(address, {
			method: 'POST',
			headers: { Authorization: `Bearer ${option('--token')}` },
			body,
		});
		if (!reply.ok) throw new Error(`${reply.status}: ${(await reply.json()).error}`);
	};
	const began = Date.now();
	for (let k = 0; k * STEP <= seconds; k++) {
		const wait = began + 1000 * k * STEP - Date.now();
		if (wait > 0) await new Promise((done) => setTimeout(done, wait));
		await send(lineAt(k * STEP));
	}
}
