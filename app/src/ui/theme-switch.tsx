import { Moon, Sun } from 'lucide-react';
import { Button } from './controls';
import { setTheme, useTheme } from './theme';

export function ThemeSwitch() {
	const theme = useTheme();
	const next = theme === 'dark' ? 'light' : 'dark';
	return (
		<Button quiet aria-label={`Switch to the ${next} theme`} onClick={() => setTheme(next)}>
			{theme === 'dark' ? <Sun size={15} /> : <Moon size={15} />}
		</Button>
	);
}
