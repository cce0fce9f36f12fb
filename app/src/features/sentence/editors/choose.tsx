/** How one is chosen of all that are left. */
import type { Query, Rule, RuleName } from '@frelk/core';
import { ArrowDown, ArrowUp, Plus, X } from 'lucide-react';
import { useBench } from '../../../model/use-bench';
import { Button, NumberField, Select } from '../../../ui/controls';
import { Term } from '../../../ui/term';
import { Row } from './row';

const RULES: { value: RuleName; label: string; unit: string | undefined; slack: number }[] = [
	{ value: 'distance', label: 'nearest', unit: 'm', slack: 0.001 },
	{ value: 'aim', label: 'nearest to the aim', unit: '°', slack: 0.1 },
	{ value: 'cursor', label: 'nearest to the cursor', unit: 'px', slack: 0.5 },
	{ value: 'priority', label: 'higher priority', unit: undefined, slack: 0 },
	{ value: 'direct', label: 'hit directly, before aim assist', unit: undefined, slack: 0 },
	{ value: 'listed', label: 'first in the file', unit: undefined, slack: 0 },
	{ value: 'seen', label: 'most of it seen', unit: undefined, slack: 0 },
];

export function ChooseEditor({
	query,
	rules,
	onChange,
}: {
	query: Query;
	rules: readonly Rule[];
	onChange: (choose: NonNullable<Query['choose']>) => void;
}) {
	const flat = useBench((s) => s.project.scene.kind === 'flat');
	const tieSlack = useBench((s) => s.project.scene.tieSlack ?? 0.001);
	const take = query.choose?.take ?? (query.kind === 'hitbox' ? 'all' : 1);
	const offered = RULES.filter((r) =>
		r.value === 'seen'
			? query.sight?.to === 'marks'
			: r.value === 'cursor'
				? query.kind === 'pick'
				: r.value === 'aim'
					? !(flat && query.kind === 'pick')
					: true,
	);
	const put = (by: Rule[]) => onChange({ ...query.choose, by });
	const swap = (i: number, j: number) => {
		const by = [...rules];
		[by[i], by[j]] = [by[j] as Rule, by[i] as Rule];
		put(by);
	};
	return (
		<div>
			<Row>
				<span>Take</span>
				<Select
					label="Take"
					value={take === 'all' ? 'all' : take === 1 ? 'one' : 'some'}
					options={[
						{ value: 'one', label: 'one' },
						{ value: 'some', label: 'up to a number' },
						{ value: 'all', label: 'all' },
					]}
					onChange={(v) => onChange({ ...query.choose, take: v === 'one' ? 1 : v === 'all' ? 'all' : 2 })}
				/>
				{typeof take === 'number' && take > 1 && (
					<NumberField
						hideLabel
						label="How many"
						className="w-14"
						step={1}
						min={1}
						value={take}
						onChange={(n) => onChange({ ...query.choose, take: Math.round(n) })}
					/>
				)}
			</Row>
			<p className="flex justify-end gap-1 pr-24 text-[12px] text-quiet">
				<Term>equal within</Term>
			</p>
			<ol className="mb-2 space-y-1">
				{rules.map((rule, i) => {
					const kind = RULES.find((r) => r.value === rule.rule);
					return (
						<li key={rule.rule} className="flex items-center gap-1">
							<span className="figure w-4 text-quiet">{i + 1}</span>
							<span className="flex-1">{kind?.label}</span>
							{rule.rule === 'distance' && (
								<Select
									label="Distance to"
									value={rule.to ?? 'contact'}
									options={[
										{ value: 'contact', label: 'contact' },
										{ value: 'focus', label: 'focus' },
									]}
									onChange={(to) => put(rules.map((r, k) => (k === i ? { ...r, to } : r)))}
								/>
							)}
							<NumberField
								hideLabel
								label={`Equal within, ${kind?.label}`}
								className="w-20"
								min={0}
								step={kind?.value === 'distance' ? 0.01 : 0.1}
								{...(kind?.unit ? { unit: kind.unit } : {})}
								value={rule.slack ?? (rule.rule === 'distance' ? tieSlack : (kind?.slack ?? 0))}
								onChange={(slack) => put(rules.map((r, k) => (k === i ? { ...r, slack } : r)))}
							/>
							<Button quiet aria-label={`${kind?.label}: earlier`} disabled={i === 0} onClick={() => swap(i, i - 1)}>
								<ArrowUp size={12} />
							</Button>
							<Button
								quiet
								aria-label={`${kind?.label}: later`}
								disabled={i === rules.length - 1}
								onClick={() => swap(i, i + 1)}
							>
								<ArrowDown size={12} />
							</Button>
							<Button
								quiet
								aria-label={`Remove ${kind?.label}`}
								disabled={rules.length === 1}
								onClick={() => put(rules.filter((_, k) => k !== i))}
							>
								<X size={12} />
							</Button>
						</li>
					);
				})}
			</ol>
			<div className="flex flex-wrap gap-1">
				{offered
					.filter((r) => !rules.some((x) => x.rule === r.value))
					.map((r) => (
						<Button key={r.value} onClick={() => put([...rules, { rule: r.value }])}>
							<Plus size={12} /> {r.label}
						</Button>
					))}
			</div>
		</div>
	);
}
