// SPDX-License-Identifier: Apache-2.0
package io.symbolon.cli.due;

import io.symbolon.cli.output.CommandText;
import io.symbolon.cli.output.HoldingText;
import io.symbolon.due.DueItem;
import io.symbolon.finding.Finding;
import io.symbolon.task.due.DueReport;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Locale;

/**
 * What ends as a page for people: one file, no network, no script; a timeline and a table, in light
 * and in dark, to be printed and to be read aloud.
 */
final class DuePage {
  private static final int WIDTH = 960;
  private static final int LEFT = 20;
  private static final int ROW = 22;
  private static final int TOP = 34;
  private static final int ROWS = 40; // in the timeline; the table has all
  private static final int NAME_ROOM = 300;
  private static final long LEAST_DAYS = 60;
  private static final long MOST_DAYS = 400;
  private static final int[] STEPS = {7, 14, 30, 60, 90};

  private static final String STYLE =
      """
      :root{color-scheme:light dark;--ink:#1b2733;--soft:#5b6b7a;--line:#d5dde5;--back:#fbfcfd;\
      --panel:#fff;--bad:#b3261e;--warn:#8a5a00;--good:#256b3f;--bar:#7c93a8}
      @media (prefers-color-scheme:dark){:root{--ink:#e4ebf2;--soft:#9fb0c0;--line:#33414f;\
      --back:#12181f;--panel:#1a222b;--bad:#ff8a80;--warn:#f0c060;--good:#7fd39b;--bar:#5f7890}}
      body{font:16px/1.5 system-ui,sans-serif;color:var(--ink);background:var(--back);margin:0}
      main{max-width:64rem;margin:0 auto;padding:2rem 1.5rem}
      h1{font-size:1.7rem;margin:0 0 .2rem}h2{font-size:1.15rem;margin:2rem 0 .6rem}
      p{margin:.3rem 0}.soft{color:var(--soft)}
      code{font:14px/1.5 ui-monospace,monospace;overflow-wrap:anywhere}
      figure{margin:1rem 0;background:var(--panel);border:1px solid var(--line);border-radius:6px;\
      padding:.6rem;overflow-x:auto}
      svg{display:block;width:100%;height:auto;min-width:44rem}
      svg text{font:13px system-ui,sans-serif;fill:var(--ink)}svg .soft{fill:var(--soft)}
      svg .grid{stroke:var(--line)}svg .now{stroke:var(--ink)}
      svg .bad{fill:var(--bad)}svg .warn{fill:var(--warn)}svg .later{fill:var(--bar)}
      table{border-collapse:collapse;width:100%;background:var(--panel);border:1px solid var(--line)}
      caption{text-align:left;color:var(--soft);padding:.3rem 0}
      th,td{text-align:left;padding:.5rem .8rem;border-bottom:1px solid var(--line);\
      vertical-align:top;overflow-wrap:anywhere}
      thead th{color:var(--soft);font-weight:600}tbody th{font-weight:600;min-width:8rem}
      .day{white-space:nowrap}
      .bad{color:var(--bad);font-weight:600}.warn{color:var(--warn);font-weight:600}
      @media print{body{background:#fff}figure,table{border-color:#999}tr{break-inside:avoid}}
      """;

  private final DueReport report;
  private final CommandText commands;
  private final StringBuilder html = new StringBuilder(32_000);

  DuePage(DueReport report, CommandText commands) {
    this.report = report;
    this.commands = commands;
  }

  String html() {
    List<DueItem> due = report.due();
    html.append("<!doctype html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n")
        .append("<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n")
        .append("<title>What is due</title>\n<style>\n")
        .append(STYLE)
        .append("</style>\n</head>\n<body>\n<main>\n<h1>What is due</h1>\n<p class=\"soft\">")
        .append(report.items().size())
        .append(
            report.items().size() == 1
                ? " certificate or revocation list, looked at on "
                : " certificates and revocation lists, looked at on ")
        .append(day(report.now()))
        .append(". ")
        .append(due.isEmpty() ? "Nothing" : "<span class=\"warn\">" + due.size() + "</span>")
        .append(due.size() > 1 ? " end before " : " ends before ")
        .append(day(report.until()))
        .append(".</p>\n");
    if (!report.items().isEmpty()) {
      timeline();
    }
    if (!due.isEmpty()) {
      table("Due now", due, true);
    }
    List<DueItem> later = report.items().subList(due.size(), report.items().size());
    if (!later.isEmpty()) {
      table("Later", later, false);
    }
    notLookedAt();
    return html.append("</main>\n</body>\n</html>\n").toString();
  }

  private void timeline() {
    List<DueItem> shown = report.items().subList(0, Math.min(ROWS, report.items().size()));
    long last = Math.max(0, shown.get(shown.size() - 1).days(report.now()));
    long days = Math.max(LEAST_DAYS, Math.min(MOST_DAYS, last + 10));
    int height = TOP + shown.size() * ROW + 14;
    html.append("<figure>\n<svg viewBox=\"0 0 ")
        .append(WIDTH)
        .append(' ')
        .append(height)
        .append("\" role=\"img\" aria-labelledby=\"line-title line-text\">\n")
        .append("<title id=\"line-title\">When each of them ends</title>\n")
        .append("<desc id=\"line-text\">A line of time from today for ")
        .append(days)
        .append(" days. The tables below say the same.</desc>\n");
    int step = 90;
    for (int one : STEPS) {
      if (days / one <= 9) {
        step = one;
        break;
      }
    }
    for (long at = 0; at <= days; at += step) {
      double x = x(at, days);
      html.append(
              at(
                  "<line class=\"%s\" x1=\"%.1f\" x2=\"%.1f\" y1=\"%d\" y2=\"%d\"/>",
                  at == 0 ? "now" : "grid", x, x, TOP - 8, height - 6))
          .append(
              at(
                  "<text class=\"soft\" x=\"%.1f\" y=\"%d\"%s>%s</text>\n",
                  x,
                  TOP - 14,
                  at == 0 ? "" : " text-anchor=\"middle\"",
                  at == 0 ? "today" : at + " days"));
    }
    for (int i = 0; i < shown.size(); i++) {
      row(shown.get(i), TOP + i * ROW, days);
    }
    html.append("</svg>\n</figure>\n");
    if (report.items().size() > shown.size()) {
      html.append("<p class=\"soft\">The line has the first ")
          .append(shown.size())
          .append("; the tables have all.</p>\n");
    }
  }

  private static double x(long day, long days) {
    double room = WIDTH - LEFT - NAME_ROOM;
    return LEFT + room * Math.min(day, days) / days;
  }

  private void row(DueItem item, int y, long days) {
    long left = Math.max(0, item.days(report.now()));
    double end = Math.max(LEFT + 4, x(left, days));
    String mark = mark(item);
    html.append(
            at(
                "<rect class=\"%s\" x=\"%d\" y=\"%d\" width=\"%.1f\" height=\"10\" rx=\"2\"/>",
                mark.isEmpty() ? "later" : mark, LEFT, y + 3, end - LEFT))
        .append(at("<text x=\"%.1f\" y=\"%d\">", end + 8, y + 13))
        .append(escaped(cut(item.name())))
        .append(" <tspan class=\"soft\">")
        .append(left(item))
        .append("</tspan></text>\n");
  }

  private static String cut(String name) {
    return name.length() <= 34 ? name : name.substring(0, 33) + "…";
  }

  private String mark(DueItem item) {
    if (item.hasEnded(report.now())) {
      return "bad";
    }
    return report.isDue(item) ? "warn" : "";
  }

  private String left(DueItem item) {
    if (item.hasEnded(report.now())) {
      return "ended";
    }
    long days = item.days(report.now());
    return days == 1 ? "1 day" : days + " days";
  }

  private void table(String title, List<DueItem> items, boolean remedies) {
    html.append("<h2>")
        .append(title)
        .append(
            "</h2>\n<table>\n<thead><tr><th scope=\"col\">whose</th><th scope=\"col\">ends</th>")
        .append("<th scope=\"col\">what and where</th>")
        .append(remedies ? "<th scope=\"col\">to do</th>" : "")
        .append("</tr></thead>\n<tbody>\n");
    for (DueItem item : items) {
      String mark = mark(item);
      html.append("<tr><th scope=\"row\">")
          .append(escaped(item.name()))
          .append("</th><td class=\"day\">")
          .append(HoldingText.day(item.ends()))
          .append(mark.isEmpty() ? "<br><span>" : "<br><span class=\"" + mark + "\">")
          .append(left(item))
          .append("</span></td><td>")
          .append(item.kind().title());
      item.uses()
          .forEach(
              use ->
                  html.append("<br><span class=\"soft\">").append(escaped(use)).append("</span>"));
      html.append("</td>");
      if (remedies) {
        html.append("<td>").append(escaped(commands.advice(item.remedy())));
        commands
            .lines(item.remedy())
            .forEach(
                one -> html.append("<br><code>").append(escaped(one.text())).append("</code>"));
        html.append("</td>");
      }
      html.append("</tr>\n");
    }
    html.append("</tbody>\n</table>\n");
  }

  private void notLookedAt() {
    if (report.findings().isEmpty()) {
      return;
    }
    html.append("<h2>Not looked at</h2>\n<ul>\n");
    for (Finding one : report.findings()) {
      html.append("<li>").append(escaped(one.where() + ": " + one.statement())).append("</li>\n");
    }
    html.append("</ul>\n");
  }

  /** Numbers as SVG has them, whatever the language of the system. */
  private static String at(String form, Object... values) {
    return String.format(Locale.ROOT, form, values);
  }

  private static String day(Instant moment) {
    return LocalDate.ofInstant(moment, ZoneOffset.UTC).toString();
  }

  private static String escaped(String text) {
    return text.replace("&", "&amp;")
        .replace("<", "&lt;")
        .replace(">", "&gt;")
        .replace("\"", "&quot;")
        .replace("'", "&#39;");
  }
}
