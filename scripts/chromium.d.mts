export const HEADLESS_SHELL: string;
export function chromiumPath(): string | undefined;
export const CHROMIUM_FLAGS: string[];
