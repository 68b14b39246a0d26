export declare const ROOT: string;
export declare function buildPages(): void;
export declare function buildPrograms(): void;
export declare function builtFile(
  name: 'server/main' | 'server/requests' | 'standins/main',
): string;

/** The file of a command that a package brings. */
export const bin: (name: string) => string;
