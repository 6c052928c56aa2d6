/** Of the list of tabs, with which the acts of a chart share their line. */
export const TABS_HEIGHT_PX = 24;
