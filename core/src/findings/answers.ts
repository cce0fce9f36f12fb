/** Rules about what queries answer, over all moments: what never is, what hangs on chance, what decides nothing. */

import { activeChecks } from '../checks/check';
import type { Expect, Query } from '../project/schema';
import { rulesOf } from '../query/choose';
import type { Context } from './context';
import type { FindingRule, Told } from './finding';

/** More objects of one finding than these are told in one line. */
const FEW = 5;

/** What checks expect at a moment is no mistake: told as a note, with how many expect it. */
function expected(
	context: Context,
	query: Query,
	moments: readonly (string | null)[],
	wants: (expect: Expect) => boolean,
) {
	const checks = activeChecks(context.project).filter(
		(c) => c.query === query.id && moments.includes(c.moment ?? null) && wants(c.expect),
	);
	const at = new Set(checks.map((c) => c.moment ?? null));
	if (!moments.every((m) => at.has(m))) return { level: 'warning' as const, words: '' };
	return {
		level: 'note' as const,
		words: `; expected by ${checks.length} ${checks.length === 1 ? 'check' : 'checks'}`,
	};
}

const name = (query: Query): string => `“${query.name ?? query.id}”`;

/** The least speed at which a throw at a place would reach it, at whichever moment; null where it reaches it, or is none. */
function neverReaches(context: Context, query: Query): number | null {
	if (!('arc' in query) || query.arc?.at === undefined) return null;
	const asked = context.all(query.id).filter((a) => a.status !== 'off');
	const speeds = asked.map((a) => a.notes.find((n) => n.code === 'out-of-reach')?.speed ?? null);
	if (speeds.length === 0 || speeds.includes(null)) return null;
	return Math.min(...(speeds as number[]));
}

export const ANSWER_RULES: readonly FindingRule[] = [
	{
		id: 'throw-never-reaches',
		level: 'warning',
		about: 'What is thrown at a place does not reach it at any moment: the query is never asked.',
		mend: 'Throw faster, at least at the speed that is told, or from nearer.',
		find: (context) =>
			context.project.queries.flatMap((query): Told[] => {
				const speed = neverReaches(context, query);
				if (speed === null) return [];
				return [
					{
						message: `${name(query)} never reaches what it is thrown at; ${Number((Math.ceil(speed * 100) / 100).toFixed(2))} m/s would`,
						path: [...context.at(query), 'arc'],
					},
				];
			}),
	},
	{
		id: 'query-never-on',
		level: 'warning',
		about: 'A query is off, or waits, at every moment: nothing it says is ever asked.',
		mend: 'Take out or loosen its conditions, or delete the query.',
		find: (context) =>
			context.project.queries.flatMap((query): Told[] =>
				context.all(query.id).every((a) => a.status === 'off' || a.status === 'waiting') &&
				!neverReaches(context, query)
					? [{ message: `${name(query)} is off or waits at every moment`, path: context.at(query) }]
					: [],
			),
	},
	{
		id: 'query-never-selects',
		level: 'warning',
		about: 'A query selects nothing at any moment, though it is asked, and no run watches it.',
		mend: 'Ask why of the object it is meant for: *Select this…* on its row in the ladder.',
		find: (context) =>
			context.project.queries.flatMap((query): Told[] => {
				if ((context.project.runs ?? []).some((r) => (r.watch ?? []).some((w) => w.query === query.id))) return [];
				const all = context.all(query.id);
				const asked = all.some((a) => a.status !== 'off' && a.status !== 'waiting');
				const nothing = all.every((a) => a.selected.length === 0 && a.status !== 'tie');
				if (!asked || !nothing) return [];
				const moments = context.moments.filter((m) => context.answer(query.id, m).status === 'none');
				const { level, words } = expected(
					context,
					query,
					moments,
					(expect) => expect.none === true || expect.room === true,
				);
				return [{ level, message: `${name(query)} selects nothing at any moment${words}`, path: context.at(query) }];
			}),
	},
	{
		id: 'answer-tied',
		level: 'warning',
		about: 'An answer is a tie: which object the game takes hangs on chance.',
		mend: 'Add a rule that tells them apart, give one of them priority, or list the order that is wanted.',
		find: (context) =>
			context.project.queries.flatMap((query): Told[] => {
				const at = context.moments.filter((m) => context.answer(query.id, m).status === 'tie');
				const [first] = at;
				if (first === undefined) return [];
				const { tied } = context.answer(query.id, first);
				const when =
					first === null
						? 'in the scene as laid out'
						: `at ${context.project.moments?.find((m) => m.id === first)?.name ?? first}`;
				const of = tied.map((id) => context.name('object', id)).join(', ');
				const more = at.length > 1 ? ` and at ${at.length - 1} more` : '';
				const { level, words } = expected(context, query, at, (expect) => expect.tie !== undefined);
				return [{ level, message: `${name(query)} is a tie of ${of} ${when}${more}${words}`, path: context.at(query) }];
			}),
	},
	{
		id: 'answer-by-order',
		level: 'note',
		about: 'An answer hangs on the order of the objects in the file, which the next export may change.',
		mend: 'Add a rule that tells them apart, so that no export can change the answer.',
		find: (context) =>
			context.project.queries.flatMap((query): Told[] => {
				const by = query.choose?.by ?? [];
				const at = by.findIndex((r) => r.rule === 'listed');
				if (
					at < 0 ||
					by.length < 2 ||
					context.sameWithout(query, (q) => ({ ...q, choose: { ...q.choose, by: by.filter((_, i) => i !== at) } }))
				)
					return [];
				return [
					{
						message: `${name(query)} is decided by the order in the file`,
						path: [...context.at(query), 'choose', 'by', at],
					},
				];
			}),
	},
	{
		id: 'rule-never-decides',
		level: 'note',
		about: 'A rule of choice changes no answer at any moment.',
		mend: 'Delete the rule, or add a check in which it decides.',
		find: (context) =>
			context.project.queries.flatMap((query): Told[] => {
				const by = query.choose?.by ?? [];
				// Where there never were two to choose from, no rule had anything to decide.
				const chose = context
					.all(query.id)
					.some((a) => a.verdicts.some((v) => v.stage === 'choice' || v.stage === 'tied'));
				if (by.length < 2 || !chose) return [];
				return by.flatMap((rule, at): Told[] => {
					if (
						!context.sameWithout(query, (q) => ({
							...q,
							choose: { ...q.choose, by: rulesOf(q).filter((_, i) => i !== at) },
						}))
					)
						return [];
					const path = [...context.at(query), 'choose', 'by', at];
					return [
						{
							message: `The rule ${rule.rule} of ${name(query)} decides nothing at any moment`,
							path,
							patch: [{ op: 'remove', path: `/${path.join('/')}` }],
						},
					];
				});
			}),
	},
	{
		id: 'outcome-never-reached',
		level: 'warning',
		about: 'An outcome stands behind another one that takes all it would take.',
		mend: 'Move it before the one that takes all, or delete it.',
		find: (context) => {
			const { family } = context.world();
			return context.project.queries.flatMap((query) =>
				(query.outcomes ?? []).flatMap((outcome, i): Told[] => {
					const { tag } = outcome;
					if (tag === undefined) return [];
					// One that asks a state may let it by.
					const before = (query.outcomes ?? [])
						.slice(0, i)
						.find((o) => o.when === undefined && o.tag !== undefined && family.get(tag)?.includes(o.tag));
					if (before?.tag === undefined) return [];
					const [own, other] = [tag, before.tag].map((id) => context.name('tag', id));
					return [
						{
							message: `The outcome for ${own} of ${name(query)} is never reached: ${other} comes first`,
							path: [...context.at(query), 'outcomes', i],
						},
					];
				}),
			);
		},
	},
	{
		id: 'selectable-without-prompt',
		level: 'note',
		about:
			'An object is selected without a prompt where others of the same query have one: a player would see nothing.',
		mend: 'Give the object a prompt, or leave it out of the query by layer or tag.',
		find: (context) => {
			const told = new Set<string>();
			return context.project.queries.flatMap((query) => {
				const selected = context.all(query.id).flatMap((a) => a.selected);
				if (!selected.some((s) => s.prompt !== null)) return [];
				return selected.flatMap((s): Told[] => {
					const key = `${query.id} ${s.object}`;
					if (s.prompt !== null || told.has(key)) return [];
					told.add(key);
					return [
						{
							message: `${context.name('object', s.object)} is selected by ${name(query)} without a prompt`,
							path: ['scene', 'objects', context.project.scene.objects.findIndex((o) => o.id === s.object)],
							related: [context.at(query)],
						},
					];
				});
			});
		},
	},
	{
		id: 'object-never-selected',
		level: 'note',
		about: 'An object has a prompt or an action, and no query at any moment and no map ever selects it.',
		mend: 'Ask why of the query that should select it: *Select this…*. If none should, clear its prompt and action.',
		find: (context) => {
			const selected = new Set(
				context.project.queries.flatMap((q) =>
					context.all(q.id).flatMap((a) => [...a.selected.map((s) => s.object), ...a.tied]),
				),
			);
			for (const { figures } of context.maps()) for (const o of figures.objects) selected.add(o.object);
			return context.project.scene.objects.flatMap((object, i): Told[] =>
				(object.prompt !== undefined || object.action !== undefined) &&
				!selected.has(object.id) &&
				object.standsFor === undefined
					? [
							{
								message: `${context.name('object', object.id)} has a prompt or an action, and neither a query nor a map selects it`,
								name: context.name('object', object.id),
								path: ['scene', 'objects', i],
							},
						]
					: [],
			);
		},
		// Of a yard of crates one line is told.
		together: {
			above: FEW,
			as: (told) => ({
				message: `${told.length} objects have a prompt or an action, and neither a query nor a map selects them: ${told
					.slice(0, FEW)
					.map((one) => one.name)
					.join(', ')} and ${told.length - FEW} more`,
				path: ['scene', 'objects'],
				related: told.map(({ path }) => path),
			}),
		},
	},
	{
		id: 'sensors-asked-to-block',
		level: 'warning',
		about: 'A layer is to stop a query, but holds sensors alone, which stop nothing unless "sensors" says so.',
		mend: 'Set "sensors" under what stops the query, or take the layer out of it.',
		find: (context) =>
			context.project.queries.flatMap((query): Told[] => {
				const blockers = query.sight?.blockers;
				if (!Array.isArray(blockers) || query.sight?.sensors) return [];
				const world = context.world();
				return blockers.flatMap((layer, i): Told[] => {
					const shapes = world.shapes.filter((s) => s.layer === world.layerBit.get(layer));
					if (shapes.length === 0 || !shapes.every((s) => s.sensor)) return [];
					const stopped = `${name(query)} is to be stopped by ${context.name('layer', layer)}`;
					return [
						{
							message: `${stopped}, which holds sensors alone: they stop nothing without "sensors"`,
							path: [...context.at(query), 'sight', 'blockers', i],
						},
					];
				});
			}),
	},
	{
		id: 'ignore-ignores-nothing',
		level: 'note',
		about: 'An object is ignored that changes no answer when it is not.',
		mend: 'Take it out of the list of what is ignored.',
		find: (context) =>
			context.project.queries.flatMap((query): Told[] =>
				(query.ignore ?? []).flatMap((id, i): Told[] => {
					if (!context.sameWithout(query, (q) => ({ ...q, ignore: (q.ignore ?? []).filter((o) => o !== id) })))
						return [];
					const path = [...context.at(query), 'ignore', i];
					return [
						{
							message: `${name(query)} ignores ${context.name('object', id)}, which changes no answer`,
							path,
							patch: [{ op: 'remove', path: `/${path.join('/')}` }],
						},
					];
				}),
			),
	},
	{
		id: 'reach-from-camera',
		level: 'note',
		about:
			'A range is measured from the camera though someone asks: it reaches farther for who stands nearer to the camera.',
		mend: 'Measure the range from who asks: *Measured from another place*.',
		find: (context) =>
			context.project.queries.flatMap((query): Told[] => {
				const fromCamera =
					query.kind === 'pick' ||
					((query.kind === 'ray' || query.kind === 'sweep') && query.from.camera !== undefined);
				if (!fromCamera || query.asker === undefined || query.range === undefined || query.range.from) return [];
				const camera = context.project.scene.cameras.find(
					(c) => c.id === (query.kind === 'pick' ? query.camera : query.from.camera),
				);
				if (!camera || camera.object === query.asker) return [];
				return [
					{
						message: `The range of ${name(query)} is measured from the camera, not from ${context.name('object', query.asker)}`,
						path: [...context.at(query), 'range'],
					},
				];
			}),
	},
	{
		id: 'action-without-effect',
		level: 'note',
		about: 'An action does nothing in run-throughs, though others have effects.',
		mend: 'Add an effect for the action on *Over time*, or ignore it where the game alone answers it.',
		find: ({ project }) => {
			const effects = project.effects ?? [];
			if (effects.length === 0) return [];
			const known = new Set(effects.map((e) => e.action));
			const told = new Set<string>();
			const tell = (action: string | null | undefined, path: (string | number)[]): Told[] => {
				if (!action || known.has(action) || told.has(action)) return [];
				told.add(action);
				return [
					{
						message: `The action “${action}” has no effect, though ${[...known].map((a) => `“${a}”`).join(', ')} have`,
						name: `“${action}”`,
						path,
					},
				];
			};
			return [
				...project.scene.objects.flatMap((o, i) => tell(o.action, ['scene', 'objects', i, 'action'])),
				...project.queries.flatMap((q, i) =>
					(q.outcomes ?? []).flatMap((o, k) => tell(o.action, ['queries', i, 'outcomes', k, 'action'])),
				),
			];
		},
		together: {
			above: 1,
			as: (told) => ({
				message: `${told.length} actions have no effect, though others have: ${told.map((one) => one.name).join(', ')}`,
				path: ['effects'],
				related: told.map(({ path }) => path),
			}),
		},
	},
];
