export function Records() { return null; }
