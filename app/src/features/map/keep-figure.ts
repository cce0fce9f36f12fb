/** A figure of a map kept as a check. */
import type { Project } from '@frelk/core';
import { type MapResult, wordsOfMapWanted } from '@frelk/core/maps';
import { namingOf } from '../../model/names';
import { freshId } from '../edit/objects';

/** No name is longer. */
const LONGEST_NAME = 200;

/** Keeps what an object has of a map: its widest circle, of a cursor map, else its share, each rounded down. @returns the id of the check */
export function keepFigure(draft: Project, map: string, figure: MapResult['figures']['objects'][number]): string {
	draft.checks ??= [];
	const id = freshId(
		draft.checks.map((c) => c.id),
		`${map}-${figure.object}`.slice(0, 56),
	);
	const { object, share, circle } = figure;
	// Four figures of it: a small share must not be kept as none.
	const scale = 10 ** (3 - Math.floor(Math.log10(share)));
	const expect =
		circle === null
			? { object, share: { min: Math.floor(share * scale) / scale } }
			: { object, circle: { min: Math.floor(circle * 10) / 10 } };
	const name = wordsOfMapWanted(expect, namingOf(draft.scene));
	draft.checks.push({ id, ...(name.length > LONGEST_NAME ? {} : { name }), map, expect });
	return id;
}
