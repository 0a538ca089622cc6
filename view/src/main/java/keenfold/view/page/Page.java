package keenfold.view.page;

import java.util.List;

/**
 * What stands on the page, before it is HTML. Texts are plain; the template escapes them.
 *
 * @param title above all
 * @param note what the plan says it is for; may be empty
 * @param made by which program, of which ledger
 * @param sets names of the data sets
 * @param metrics names of the metrics
 * @param primary the metric shown first
 * @param candidates names of the candidates
 * @param answers what is to be known first, data set by data set
 * @param first the figure below them
 * @param chapters in the order of the job
 */
public record Page(
        String title,
        String note,
        String made,
        List<String> sets,
        List<String> metrics,
        String primary,
        List<String> candidates,
        List<Answer> answers,
        List<Picture> first,
        List<Chapter> chapters) {
    /** Copies the lists. */
    public Page {
        sets = List.copyOf(sets);
        metrics = List.copyOf(metrics);
        candidates = List.copyOf(candidates);
        answers = List.copyOf(answers);
        first = List.copyOf(first);
        chapters = List.copyOf(chapters);
    }

    /**
     * What is to be known first of a data set.
     *
     * @param title the data set and the metric
     * @param entries in the order of reading
     */
    public record Answer(String title, List<Entry> entries) {
        /** Copies the entries. */
        public Answer {
            entries = List.copyOf(entries);
        }
    }

    /**
     * A line of an answer.
     *
     * @param label what it is about
     * @param text what is said
     */
    public record Entry(String label, String text) {}

    /**
     * A part of the page.
     *
     * @param id of its place
     * @param title its heading
     * @param lead what it is about
     * @param parts what it consists of
     */
    public record Chapter(String id, String title, String lead, List<Part> parts) {
        /** Copies the parts. */
        public Chapter {
            parts = List.copyOf(parts);
        }
    }

    /**
     * What is shown of one data set and metric.
     *
     * @param set index of the data set, −1 for all
     * @param metric name of the metric, empty for all
     * @param heading may be empty
     * @param texts paragraphs
     * @param notices warnings
     * @param tables tables
     * @param pictures figures
     * @param code text as it stands, such as a plan or commands; may be empty
     */
    public record Part(
            int set,
            String metric,
            String heading,
            List<String> texts,
            List<String> notices,
            List<Table> tables,
            List<Picture> pictures,
            String code) {
        /** Copies the lists. */
        public Part {
            texts = List.copyOf(texts);
            notices = List.copyOf(notices);
            tables = List.copyOf(tables);
            pictures = List.copyOf(pictures);
        }
    }

    /**
     * A table whose rows can be sorted.
     *
     * @param caption says what it is
     * @param heads names of columns
     * @param rows as many cells each
     */
    public record Table(String caption, List<Head> heads, List<Row> rows) {
        /** Copies the lists. */
        public Table {
            heads = List.copyOf(heads);
            rows = List.copyOf(rows);
        }
    }

    /**
     * A column.
     *
     * @param text its name
     * @param number whether it holds numbers
     */
    public record Head(String text, boolean number) {}

    /**
     * A row.
     *
     * @param about the candidate it is about, empty for none
     * @param mark "pick", "best" or empty
     * @param cells in the order of the columns
     */
    public record Row(String about, String mark, List<Cell> cells) {
        /** Copies the cells. */
        public Row {
            cells = List.copyOf(cells);
        }
    }

    /**
     * A cell.
     *
     * @param text as shown
     * @param sort by which its column is sorted: a number in full, or a text
     */
    public record Cell(String text, String sort) {}

    /**
     * A figure.
     *
     * @param title what it is
     * @param caption how to read it
     * @param svg the drawing
     * @param narrow the drawing for a narrow screen; empty if the other serves there too
     * @param file its file beside the page, without ending; empty if there is none
     */
    public record Picture(String title, String caption, String svg, String narrow, String file) {}
}
