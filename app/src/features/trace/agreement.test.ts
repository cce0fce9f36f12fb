import { expect, it } from 'vitest';
import { agreementWords } from './agreement';

it('says no more than was read and asked', () => {
	expect(agreementWords({ lines: 3, asked: 3, unread: 0 })).toBe('The game and Frelk agree at every line.');
	expect(agreementWords({ lines: 3, asked: 3, unread: 1 })).toBe(
		'The game and Frelk agree at every line that could be read; one line could not be.',
	);
	expect(agreementWords({ lines: 0, asked: 0, unread: 2 })).toBe('No line of it could be read: nothing was asked.');
	expect(agreementWords({ lines: 0, asked: 0, unread: 0 })).toBe('No line has come yet.');
	expect(agreementWords({ lines: 2, asked: 0, unread: 0 })).toBe('The game asked nothing in these lines.');
	expect(agreementWords({ lines: 2, asked: 0, unread: 4 })).toBe(
		'The game asked nothing in these lines; 4 lines could not be read.',
	);
});
