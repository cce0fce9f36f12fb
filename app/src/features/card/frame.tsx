/** The frame of a card, where it lies. */
import type { ReactNode } from 'react';

export function CardFrame({
	label,
	side,
	children,
}: {
	label: string;
	side: 'queries' | 'ladder';
	children: ReactNode;
}) {
	return (
		<section
			data-keeps-wheel
			aria-label={label}
			className={`absolute top-10 max-h-[calc(100%-2.5rem)] w-72 overflow-auto border border-ink/60 bg-panel p-2 shadow-md [contain:paint] ${side === 'queries' ? 'left-0 z-20' : 'right-0'}`}
		>
			{children}
		</section>
	);
}
