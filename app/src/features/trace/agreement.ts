/** What is said of a trace in which nothing differs: that it agrees only as far as it was read and asked. */
export function agreementWords({ lines, asked, unread }: { lines: number; asked: number; unread: number }): string {
	const not = unread === 1 ? 'one line could not be' : `${unread} lines could not be`;
	if (lines === 0) return unread > 0 ? 'No line of it could be read: nothing was asked.' : 'No line has come yet.';
	if (asked === 0) return `The game asked nothing in these lines${unread > 0 ? `; ${not} read` : ''}.`;
	return unread > 0
		? `The game and Frelk agree at every line that could be read; ${not}.`
		: 'The game and Frelk agree at every line.';
}
