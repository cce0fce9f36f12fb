/** Pictures of projects, kept with them; those of changed projects are drawn anew by a worker, one after the other. */
import { useEffect, useState } from 'react';
import type { Picture } from '../../data/db';
import { fileOf } from '../../data/disk';
import { getProject, isOnDisk, keepPicture, type Listed, pictureOf } from '../../data/projects';
import { pictureIn, standingIn } from '../../workers/client';

/** A drawing that takes longer is given up, milliseconds. */
const LIMIT = 5000;

/** What is drawn: a project of the browser, or one in a file, of which its checks are told too. */
export type Drawn = Pick<Listed, 'key' | 'version' | 'damaged'>;

/** Checks that take longer are left for when the project is opened, milliseconds. */
const CHECKS_LIMIT = 20_000;

/** @returns the outcome of a job, which is given up after so long */
async function within<T>(
	limit: number,
	job: { done: Promise<T>; cancel: () => void },
	stopped: (cancel: () => void) => void,
): Promise<T> {
	stopped(job.cancel);
	const timer = setTimeout(job.cancel, limit);
	try {
		return await job.done;
	} finally {
		clearTimeout(timer);
	}
}

async function drawn({ key, version }: Drawn, stopped: (cancel: () => void) => void): Promise<Picture> {
	const text = isOnDisk(key) ? (await fileOf(key))?.text : (await getProject(key))?.text;
	if (text === undefined) return { key, version, lines: [] };
	const { lines, trouble } = await within(LIMIT, pictureIn(text), stopped);
	const picture = { key, version, lines, ...(trouble === undefined ? {} : { trouble }) };
	if (!isOnDisk(key) || trouble !== undefined) return picture;
	const standing = await within(CHECKS_LIMIT, standingIn(text), stopped).catch(() => null);
	return standing ? { ...picture, standing } : picture;
}

/** @returns the pictures there are, by the project's key */
export function usePictures(rows: readonly Drawn[]): ReadonlyMap<string, Picture> {
	const [pictures, setPictures] = useState<ReadonlyMap<string, Picture>>(new Map());
	useEffect(() => {
		let over = false;
		let cancel = () => {};
		const add = (picture: Picture) => setPictures((known) => new Map(known).set(picture.key, picture));
		(async () => {
			const open: Drawn[] = [];
			for (const row of rows) {
				const known = await pictureOf(row.key).catch(() => undefined);
				if (over) return;
				if (known) add(known);
				if (known?.version !== row.version && row.damaged === null) open.push(row);
			}
			for (const row of open) {
				try {
					const picture = await drawn(row, (end) => {
						cancel = end;
					});
					if (over) return;
					add(picture);
					await keepPicture(picture);
				} catch (error) {
					// No picture of this one: too slow, or no room to keep it. Its card stands without.
					if (!over) console.warn(`no picture of ${row.key}`, error);
				}
			}
		})();
		return () => {
			over = true;
			cancel();
		};
	}, [rows]);
	return pictures;
}
