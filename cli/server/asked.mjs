// What takes a body of text and answers with JSON: how it is read, refused and told.
import { timingSafeEqual } from 'node:crypto';

/** What is wrong with a request, as the one who asks is told. */
export class Wrong extends Error {
	constructor(status, message, headers = {}) {
		super(message);
		this.status = status;
		this.headers = headers;
	}
}

/** Whether two words are the same, in a time that does not tell how far they are. */
export const same = (a, b) => {
	const [x, y] = [Buffer.from(a), Buffer.from(b)];
	return x.length === y.length && timingSafeEqual(x, y);
};

/**
 * @param {number} most bytes
 * @param {{ tooMuch: () => Wrong, noText: string, left: string }} words what is said of a body that is too large, of one that is no UTF-8, and of an end
 * @returns {Promise<string>} the body
 */
export function textOf(request, most, { tooMuch, noText, left }) {
	return new Promise((resolve, reject) => {
		const parts = [];
		let size = 0;
		request.on('data', (part) => {
			size += part.length;
			if (size > most) {
				request.removeAllListeners('data');
				request.resume();
				reject(tooMuch());
			} else parts.push(part);
		});
		request.on('end', () => {
			try {
				resolve(new TextDecoder('utf-8', { fatal: true }).decode(Buffer.concat(parts)));
			} catch {
				reject(new Wrong(400, noText));
			}
		});
		request.on('error', reject);
		request.on('close', () => reject(new Wrong(499, left)));
	});
}

/**
 * Answers with what comes of a request.
 * @param {string} what the address, for the log: what is the server's own fault stands there alone
 */
export function answerWith(response, what, outcome) {
	outcome.then(
		(body) => response.json(body),
		(error) => {
			const isWrong = error instanceof Wrong;
			if (!isWrong) console.error(`${what}: ${error.message}`);
			if (response.headersSent || response.destroyed) return;
			response
				.set(isWrong ? error.headers : {})
				.status(isWrong ? error.status : 500)
				.json({ error: isWrong ? error.message : 'internal error' });
		},
	);
}
