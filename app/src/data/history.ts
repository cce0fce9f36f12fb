/** The last runs of a project's checks, and versions kept to compare with. */
import { type CheckResult, checkProject, formatProblem, type Project } from '@frelk/core';
import Dexie from 'dexie';
import { db, type Run, type Version } from './db';
import { isVersion, soundRow } from './rows';

/** Runs kept a project; older ones go. */
const KEPT = 200;

const ofProject = (table: 'runs' | 'versions', key: string) =>
	db()[table].where('[key+at]').between([key, Dexie.minKey], [key, Dexie.maxKey]);

/** Notes a run where its outcome differs from the last one. */
export async function noteRun(
	key: string,
	state: { results: readonly Pick<CheckResult, 'id' | 'pass' | 'reason'>[]; hold: number },
	after: string | null,
): Promise<void> {
	const failing = state.results.filter((r) => !r.pass).map((r) => ({ check: r.id, reason: r.reason }));
	const ran = state.results.map((r) => r.id);
	await db().transaction('rw', db().runs, async () => {
		const found = (await ofProject('runs', key).last()) as Run | undefined;
		const last = found && soundRow('runs', found.id as number, found);
		if (
			last &&
			last.hold === state.hold &&
			JSON.stringify(last.failing) === JSON.stringify(failing) &&
			last.ran.length === ran.length
		)
			return;
		await db().runs.add({ key, at: Date.now(), hold: state.hold, failing, ran, after });
		const all = (await ofProject('runs', key).primaryKeys()) as number[];
		if (all.length > KEPT) await db().runs.bulkDelete(all.slice(0, all.length - KEPT));
	});
}

/** The runs kept, the latest first. */
export async function runsOf(key: string): Promise<Run[]> {
	const rows = (await ofProject('runs', key).toArray()) as Run[];
	return rows.filter((row) => soundRow('runs', row.id as number, row) !== null).reverse();
}

/** Since when each check has stood as it stands, by the runs kept: milliseconds since 1970. */
export interface Since {
	failing: boolean;
	at: number;
	after: string | null;
}

export function sinceWhen(runs: readonly Run[]): Map<string, Since> {
	const since = new Map<string, Since>();
	const closed = new Set<string>();
	for (const run of runs) {
		const failing = new Set(run.failing.map((f) => f.check));
		for (const check of run.ran) {
			if (closed.has(check)) continue;
			const now = failing.has(check);
			const known = since.get(check);
			if (!known) since.set(check, { failing: now, at: run.at, after: run.after ?? null });
			else if (known.failing === now) {
				known.at = run.at;
				known.after = run.after ?? null;
			} else closed.add(check);
		}
	}
	return since;
}

export async function keepVersion(key: string, name: string, project: Project): Promise<void> {
	await db().versions.add({ key, at: Date.now(), name, project });
}

export async function versionsOf(key: string): Promise<Version[]> {
	const rows = (await ofProject('versions', key).toArray()) as Version[];
	// One that is damaged is somebody's work all the same: it is listed, and says so when it is used.
	return rows.map((row) => (isVersion(row) ? row : { ...row, at: 0, name: 'A damaged version' })).reverse();
}

/** @returns the project of a version. @throws where it is none any more */
export function projectOf({ project }: Version): Project {
	const reading = checkProject(project);
	if (!reading.ok)
		throw new Error(`This version is damaged: ${reading.problems.slice(0, 3).map(formatProblem).join('; ')}`);
	return reading.project;
}

export async function dropVersion(id: number): Promise<void> {
	await db().versions.delete(id);
}
