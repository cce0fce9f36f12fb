/** Text as it stands in markup. */
import { oneLine } from '../project/describe';

/** @returns the text on one line, with what markup would read as its own written out */
export const escaped = (text: string): string =>
	oneLine(text).replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');

/** Whether a program that reads tables would take a cell's text for a formula: a mark before it says that it is text. */
export const isFormula = (text: string): boolean => /^[=+\-@\t\r\n]/.test(text);
