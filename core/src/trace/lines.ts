/** The bytes of a trace cut into lines, as they come: never more is held than one line may have. */
import { decodeUtf8 } from '../project/read';
import { MAX_LINE } from './read';

/** A line as text; or, where it cannot be one, why. */
export type CutLine = { number: number; text: string } | { number: number; message: string };

const NEWLINE = 10;
const RETURN = 13;
/** Bytes that a line of as many characters may have at most. */
const MAX_BYTES = 3 * MAX_LINE;

/** Cuts what comes at line breaks (LF or CR LF). A byte order mark at the beginning is passed over. */
export class LineCutter {
	private parts: Uint8Array[] = [];
	private size = 0;
	private number = 0;

	/** @returns the lines that end in this piece; the piece must not be changed afterwards */
	*push(bytes: Uint8Array): Generator<CutLine> {
		let from = 0;
		for (let at = bytes.indexOf(NEWLINE); at >= 0; at = bytes.indexOf(NEWLINE, from)) {
			this.keep(bytes.subarray(from, at));
			yield this.line();
			from = at + 1;
		}
		this.keep(bytes.subarray(from));
	}

	/** @returns the last line, where it ends with the file */
	*end(): Generator<CutLine> {
		if (this.size > 0) yield this.line();
	}

	private keep(bytes: Uint8Array): void {
		this.size += bytes.length;
		if (this.size > MAX_BYTES) this.parts = [];
		else if (bytes.length > 0) this.parts.push(bytes);
	}

	private line(): CutLine {
		const { size, parts } = this;
		const number = ++this.number;
		this.size = 0;
		this.parts = [];
		if (size > MAX_BYTES) return { number, message: `is ${size} bytes long; at most ${MAX_LINE} characters are read` };
		let whole = parts[0] ?? new Uint8Array();
		if (parts.length > 1) {
			whole = new Uint8Array(size);
			let at = 0;
			for (const part of parts) {
				whole.set(part, at);
				at += part.length;
			}
		}
		const text = decodeUtf8(whole.at(-1) === RETURN ? whole.subarray(0, -1) : whole);
		if (typeof text !== 'string') return { number, message: text.message.replace('; save it as UTF-8', '') };
		return { number, text: number === 1 && text.startsWith('\ufeff') ? text.slice(1) : text };
	}
}
