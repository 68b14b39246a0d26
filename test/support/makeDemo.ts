// Seeds the demo that the tests copy, so that no two of them do it at once.
import { seededDemo } from './demoFile.ts';

await seededDemo();
