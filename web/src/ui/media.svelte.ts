import { MediaQuery } from 'svelte/reactivity'

/** A screen as narrow as a phone's, or one magnified until it is: lists before charts, panels as sheets from below. */
export const phone = new MediaQuery('max-width: 767px')
