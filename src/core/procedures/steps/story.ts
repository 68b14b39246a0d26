import { defineStep, done } from './step.ts';

/** What its owner tells of it. */
export const story = defineStep({
  kind: 'story',
  takes: { tellStory: ({ step, command }) => [{ type: 'story.told', story: command.story }, done(step, { story: command.story.story })] },
});
