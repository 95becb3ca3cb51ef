// scripts: what scripts say, line by line: the calls in them and the texts that they are given.
export { spokenBy, spokenIn, type Spoken } from './spoken';
