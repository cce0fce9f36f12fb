/** A few faces of one place, of which one is seen. */
import { Tabs as Radix } from 'radix-ui';
import type { ReactNode } from 'react';

export function Tabs<T extends string>({
	label,
	options,
	value,
	onChange,
	className = '',
	children,
}: {
	label: string;
	options: readonly { value: T; label: string }[];
	value: T;
	onChange: (value: T) => void;
	/** Of what is seen. */
	className?: string;
	/** The face that is chosen. */
	children: ReactNode;
}) {
	return (
		<Radix.Root value={value} onValueChange={(next) => onChange(next as T)} className="flex min-h-0 flex-1 flex-col">
			<Radix.List aria-label={label} className="flex shrink-0 flex-wrap border-b bg-panel px-1">
				{options.map((o) => (
					<Radix.Trigger
						key={o.value}
						value={o.value}
						data-label={o.label}
						className="px-2 py-1 text-quiet hover:text-ink data-[state=active]:border-b-2 data-[state=active]:border-ink data-[state=active]:font-semibold data-[state=active]:text-ink"
					>
						{o.label}
					</Radix.Trigger>
				))}
			</Radix.List>
			<Radix.Content key={value} value={value} tabIndex={-1} className={`min-h-0 flex-1 ${className}`}>
				{children}
			</Radix.Content>
		</Radix.Root>
	);
}
