export * from './easing';
