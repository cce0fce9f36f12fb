/** A small window by the button that opened it. Fetched when the first one is opened, or before, when there is time. */
import { clsx } from 'clsx';
import { Popover } from 'radix-ui';
import type { ReactElement, ReactNode } from 'react';

export default function OpenedPopover({
	trigger,
	label,
	children,
	wide,
}: {
	trigger: ReactElement;
	label: string;
	children: ReactNode;
	wide?: boolean;
}) {
	return (
		<Popover.Root defaultOpen>
			<Popover.Trigger asChild>{trigger}</Popover.Trigger>
			<Popover.Portal>
				<Popover.Content
					aria-label={label}
					sideOffset={6}
					collisionPadding={8}
					align="start"
					className={clsx(
						'z-50 max-h-[70vh] overflow-auto rounded-[4px] border bg-panel p-3 shadow-lg',
						wide ? 'w-96' : 'w-72',
					)}
				>
					{children}
				</Popover.Content>
			</Popover.Portal>
		</Popover.Root>
	);
}
