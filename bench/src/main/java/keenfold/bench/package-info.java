/** Benchmarks, and the maker of the demo data; never shipped. */
package keenfold.bench;
