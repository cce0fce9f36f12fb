/** What is prompted and done, by tag. */
import type { Query } from '@frelk/core';
import { Plus, X } from 'lucide-react';
import { useBench } from '../../../model/use-bench';
import { Button, Select, TextField } from '../../../ui/controls';

type Outcome = NonNullable<Query['outcomes']>[number];

/** Which tag leads to which prompt and action: the first that fits decides. */
export function OutcomesEditor({
	outcomes,
	onChange,
}: {
	outcomes: readonly Outcome[];
	onChange: (outcomes: Outcome[]) => void;
}) {
	const known = useBench((s) => s.project.scene.tags);
	const tags = known.map((t) => ({ value: t.id, label: t.name ?? t.id }));
	const set = (i: number, next: Outcome | null) =>
		onChange(outcomes.flatMap((o, k) => (k === i ? (next ? [next] : []) : [o])));
	/** An empty field leaves the object's own; a dash takes it away. */
	const text = (value: string | null | undefined) => (value === null ? '–' : (value ?? ''));
	const parsed = (key: 'prompt' | 'action', o: Outcome, value: string): Outcome => {
		const { [key]: _, ...rest } = o;
		return value === ''
			? (rest as Outcome)
			: ({ ...rest, [key]: value === '–' || value === '-' ? null : value } as Outcome);
	};
	return (
		<div>
			{outcomes.map((o, i) => (
				// biome-ignore lint/suspicious/noArrayIndexKey: outcomes have no name but their place
				<div key={i} className="mb-2 grid grid-cols-[1fr_1.2fr_1fr_auto] items-center gap-1">
					<Select
						label={`Outcome ${i + 1}: tag`}
						value={o.tag}
						options={tags}
						onChange={(tag) => set(i, { ...o, tag })}
					/>
					<TextField
						label={`Outcome ${i + 1}: prompt`}
						placeholder="its own prompt"
						value={text(o.prompt)}
						onCommit={(v) => set(i, parsed('prompt', o, v))}
					/>
					<TextField
						label={`Outcome ${i + 1}: action`}
						placeholder="its own action"
						value={text(o.action)}
						onCommit={(v) => set(i, parsed('action', o, v))}
					/>
					<Button quiet aria-label={`Remove outcome ${i + 1}`} onClick={() => set(i, null)}>
						<X size={13} />
					</Button>
				</div>
			))}
			<Button disabled={tags.length === 0} onClick={() => onChange([...outcomes, { tag: tags[0]?.value ?? '' }])}>
				<Plus size={13} /> Outcome
			</Button>
			<p className="mt-1 text-[12px] text-quiet">
				The first tag that fits decides. An empty field leaves the object’s own; a dash takes it away.
			</p>
		</div>
	);
}
