import { defineStep, done, type Takes } from '../step.ts';

/** What its owner tells of it. */
export const story = defineStep({
  kind: 'story',
  inTray: 'each',
});

export const storyTakes: Takes<'story'> = {
  tellStory: ({ step, command }) => [{ type: 'story.told', story: command.story }, done(step)],
};
