/** Rules about run-throughs and maps: what falls between two steps, what a memory gets wrong, what is too small to hit. */
import { lastStep, SUBSTEPS, TIME_EPSILON, watchId } from '../project/defaults';
import { runThrough } from '../run/run';
import type { Context } from './context';
import type { FindingRule, Told } from './finding';

/** The target size of WCAG 2.2, pixels. */
const MIN_TARGET = 24;
/** Runs with more steps are not gone through for a finding. */
const MAX_STEPS = 5000;

const runsOf = ({ project }: Context) =>
	(project.runs ?? []).flatMap((run, i) =>
		lastStep(run) <= MAX_STEPS ? [{ run, path: ['runs', i], result: () => runThrough(project, run) }] : [],
	);

export const TIME_RULES: readonly FindingRule[] = [
	{
		id: 'window-without-step',
		level: 'warning',
		about: 'A window of a swing holds no step of its run: its box is never open when the game asks.',
		mend: 'Make the window at least one step of the run wide, or the step shorter.',
		find: (context) =>
			runsOf(context).flatMap(({ run, path }) =>
				(run.swings ?? []).flatMap((swing, i) => {
					const query = context.project.queries.find((q) => q.id === swing.query);
					if (query?.kind !== 'hitbox') return [];
					return query.boxes.flatMap((box, k): Told[] => {
						const [from, until] = [swing.at + (box.from ?? 0), swing.at + (box.until ?? Infinity)];
						const first = Math.ceil((from - TIME_EPSILON) / run.step) * run.step;
						if (first <= until + TIME_EPSILON) return [];
						const open = `from ${Number(from.toFixed(4))} to ${Number(until.toFixed(4))} s of ${run.name ?? run.id}`;
						return [
							{
								message: `Box ${k} of “${query.name ?? query.id}” is open ${open}, between two steps`,
								path: [...path, 'swings', i],
								related: [[...context.at(query), 'boxes', k]],
							},
						];
					});
				}),
			),
	},
	{
		id: 'late-before-beginning',
		level: 'warning',
		about:
			'What is asked late looks back beyond the beginning of its run, at every step: it sees the first instant alone.',
		mend: 'Make the lateness shorter than the run, in seconds, or the run longer.',
		find: ({ project }) =>
			(project.runs ?? []).flatMap((run, i) => {
				const late = (entry: { query: string; late?: number }, until: number, path: (string | number)[]): Told[] =>
					entry.late !== undefined && entry.late > 0 && entry.late >= until
						? [
								{
									message: `In ${run.name ?? run.id} “${project.queries.find((q) => q.id === entry.query)?.name ?? entry.query}” is ${entry.late} s late, and the run is ${Number(until.toFixed(4))} s long`,
									path: ['runs', i, ...path, 'late'],
								},
							]
						: [];
				return [
					...(run.watch ?? []).flatMap((entry, k) => late(entry, run.duration, ['watch', k])),
					...(run.swings ?? []).flatMap((entry, k) => late(entry, run.duration, ['swings', k])),
				];
			}),
	},
	{
		id: 'passes-between-steps',
		level: 'warning',
		about: 'Something touches a watched volume between two steps alone: the game never sees it.',
		mend: 'Sweep the volume from step to step, shorten the step, or make the volume deeper than what passes moves in one.',
		find: (context) =>
			runsOf(context).flatMap(({ run, path, result }): Told[] => {
				if ((run.between ?? SUBSTEPS) < 2) return [];
				const missed = result().events.filter((e) => e.kind === 'missed');
				const [first] = missed;
				if (first?.kind !== 'missed') return [];
				const who = context.name('object', first.object);
				const what = 'watch' in first ? `touched by ${first.watch}` : 'hit';
				const between = `between the steps ${first.after} and ${first.after + 1} alone`;
				const more = missed.length > 1 ? `; ${missed.length} in all` : '';
				return [{ message: `In ${run.name ?? run.id} ${who} is ${what} ${between}${more}`, path: [...path] }];
			}),
	},
	{
		id: 'memory-disagrees',
		level: 'note',
		about: 'What a one-slot memory holds is another thing than the answer, at some step of a run.',
		mend: 'Clear the slot only when what it holds leaves, or ask anew at every step in place of remembering.',
		find: (context) =>
			runsOf(context).flatMap(({ run, path, result }) => {
				if (!(run.watch ?? []).some((w) => w.keeps === 'one')) return [];
				const { watch } = result();
				return (run.watch ?? []).flatMap((w, i): Told[] => {
					const unlike = watch.find((f) => f.id === watchId(w))?.unlike ?? 0;
					return w.keeps === 'one' && unlike > 0
						? [
								{
									message: `The memory ${watchId(w)} of ${run.name ?? run.id} holds another thing than the answer at ${unlike} steps`,
									path: [...path, 'watch', i],
								},
							]
						: [];
				});
			}),
	},
	{
		id: 'target-small',
		level: 'warning',
		about: 'On a kept map the largest circle of an object is under 24 px, the target size of WCAG 2.2.',
		mend: 'Widen its shapes, or help the aim: *aim assist*.',
		find: (context) =>
			context.maps().flatMap(({ map, figures }) => {
				const at = (context.project.maps ?? []).findIndex((m) => m.id === map);
				const name = context.project.maps?.[at]?.name ?? map;
				const small = figures.objects.filter((o) => o.circle !== null && o.circle < MIN_TARGET);
				if (small.length === 0) return [];
				const wide = ({ object, circle }: (typeof small)[number]) =>
					`${context.name('object', object)}${small.length === 1 ? ' is at most' : ''} ${Number((circle ?? 0).toFixed(1))} px`;
				return [
					{
						message:
							small.length === 1
								? `On ${name} ${small.map(wide).join()} wide`
								: `On ${name} ${small.length} objects are narrower than ${MIN_TARGET} px: ${small
										.toSorted((a, b) => (a.circle ?? 0) - (b.circle ?? 0))
										.map(wide)
										.join(', ')}`,
						path: ['maps', at],
						related: small.map((o) => [
							'scene',
							'objects',
							context.project.scene.objects.findIndex((x) => x.id === o.object),
						]),
					},
				];
			}),
	},
];
