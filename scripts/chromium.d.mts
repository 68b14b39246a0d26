export const CHROMIUM: string;
export const CHROMIUM_FLAGS: string[];
