/** Stands in for PrimeVue's ripple, which is off here: its directive would look for its style on each of the buttons. */
export default {};
