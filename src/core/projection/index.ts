export { type HoursLever, type HoursProjection, type Projected, projectHours, type Run, type Window } from "./hours-lever";
