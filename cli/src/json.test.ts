import { expect, it } from 'vitest';
import { indented, indentedGrid } from './json';

it('prints what JSON prints, with whole numbers of a list on one line and texts as they are', () => {
	const value = {
		name: 'a [1,\n 2] and [ 3 ]',
		cells: [0, -1, 12],
		none: [],
		nothing: {},
		left: undefined,
		shares: [0.5, 1],
		rows: [
			[1, 2],
			[3, null],
		],
	};
	const text = indentedGrid(value, 4);
	expect(JSON.parse(text)).toEqual(JSON.parse(JSON.stringify(value)));
	expect(text).toContain('\n      "cells": [0,-1,12],\n');
	expect(text).toContain('[1,2],');
	// All else stands as it does elsewhere.
	const plain = { ...value, cells: undefined, rows: undefined };
	expect(indentedGrid(plain, 4)).toBe(indented(plain, 4));
});
