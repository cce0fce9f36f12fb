// What a game tells while it runs, as nobody meant it, by its seed: a body is refused as a whole in words of our own, or each of its lines
// reaches who follows, once, in its order, as the same JSON in one line.
import { mutatedText, mutatedTree } from '../core/src/tests/mutate';
import { dice } from '../core/src/tests/random';

const LINES = [
	{ format: 'frelk-trace/1', project: 'live', clock: 's' },
	{
		t: 0,
		objects: { near: { position: [0, 0, -3], world: true } },
		asked: [{ query: 'q', got: ['near'], note: 'ä\u2028ö' }],
	},
	{ t: 0.1, cameras: { eye: { rotation: [1, 2, 3] } }, states: { s: true }, asked: [{ query: 'q', got: null }] },
];
const BREAKS = ['\n', '\n', '\n', '\r\n', '\n\n', '\r', '\n \t\n', '\n: gone\n', '\ndata: 7 {}\n', '\u2028', '\u0085'];
const STATUS = [200, 400, 401, 413, 429, 503];
// biome-ignore lint/suspicious/noControlCharactersInRegex: these must not be there
const UNCLEAN = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f]/;

/** @returns the same bytes for the same seed */
function bodyOf(seed) {
	const d = dice(2 * seed + 1);
	const lines = Array.from({ length: d.whole(0, 6) }, () => {
		const line = d.of(LINES);
		return d.chance(0.4) ? mutatedTree(d, line) : JSON.stringify(line, null, d.chance(0.1) ? 1 : 0);
	});
	const text = lines.map((line) => line + d.of(BREAKS)).join('');
	const bytes = new TextEncoder().encode(d.chance(0.3) ? mutatedText(d, text) : text);
	if (d.chance(0.1) && bytes.length > 0) bytes[d.whole(0, bytes.length - 1)] = d.whole(128, 255);
	return {
		bytes,
		query: d.chance(0.7) ? '?project=live' : d.of(['', '?project=', '?project=a&project=b', '?project=__proto__']),
	};
}

/**
 * Follows a project as a browser does: lines end at \n, \r or both, an event at an empty one.
 * @returns what was heard so far, and what ends it
 */
export async function follow(base, token, project) {
	const stop = new AbortController();
	const reply = await fetch(`${base}/api/trace?project=${project}`, {
		headers: { Authorization: `Bearer ${token}` },
		signal: stop.signal,
	});
	const heard = [];
	const reading = (async () => {
		const decoder = new TextDecoder();
		let rest = '';
		let event = '';
		try {
			for await (const part of reply.body) {
				const text = rest + decoder.decode(part, { stream: true });
				// A return at the end may be the first half of a break.
				const whole = text.endsWith('\r') ? text.length - 1 : text.length;
				const lines = text.slice(0, whole).split(/\r\n|\r|\n/);
				rest = lines.pop() + text.slice(whole);
				for (const line of lines) {
					if (line === '') event = '';
					else if (line.startsWith('event: ')) event = line.slice(7);
					else if (line.startsWith('data: ') && event === 'lines') heard.push(line.slice(6));
					else if (!/^(id: \d+|retry: \d+|data: \{"last":\d+,"lost":\d+\}|: still here)$/.test(line))
						heard.push(`not a line of ours: ${line}`);
				}
			}
		} catch (error) {
			if (error.name !== 'AbortError') throw error;
		}
	})();
	return {
		heard,
		stop: () => {
			stop.abort();
			return reading;
		},
	};
}

/**
 * @param heard what a follower of the project `live` hears; it is emptied
 * @returns what is wrong with how the case of a seed ends; null where all is well
 */
export async function judgeLive(seed, { base, token, heard }) {
	const { bytes, query } = bodyOf(seed);
	const reply = await fetch(`${base}/api/trace${query}`, {
		method: 'POST',
		headers: { Authorization: `Bearer ${token}` },
		body: bytes,
	});
	const text = await reply.text();
	if (!STATUS.includes(reply.status)) return `answered with ${reply.status}: ${text.slice(0, 300)}`;
	const told = JSON.parse(text);
	if (reply.status !== 200) {
		await quiet();
		if (heard.length > 0) return `was refused (${told.error}), and ${heard.length} lines of it were heard`;
		return typeof told.error === 'string' && !UNCLEAN.test(told.error) ? null : `unclean: ${text.slice(0, 300)}`;
	}
	const sent = new TextDecoder()
		.decode(bytes)
		.split('\n')
		.filter((line) => line.trim() !== '');
	const lines = sent.map((line) => JSON.parse(line)).filter((line) => line.format !== 'frelk-trace/1');
	if (told.taken !== lines.length) return `says that ${told.taken} of ${lines.length} lines were taken`;
	for (let tries = 0; told.listeners > 0 && heard.length < lines.length && tries < 500; tries++) await quiet();
	const got = heard.splice(0);
	if (told.listeners === 0) return null;
	if (got.length !== lines.length) return `${got.length} of ${lines.length} lines were heard: ${got[0]?.slice(0, 200)}`;
	for (const [i, line] of got.entries()) {
		const [, number, json] = /^(\d+) (.*)$/s.exec(line) ?? [];
		if (Number(number) !== told.last - lines.length + 1 + i) return `line ${i + 1} has the number ${number}`;
		if (JSON.stringify(JSON.parse(json)) !== JSON.stringify(lines[i])) return `line ${i + 1} was heard as ${json}`;
	}
	return null;
}

const quiet = () => new Promise((done) => setTimeout(done, 2));
