// SPDX-License-Identifier: Apache-2.0
package io.symbolon.issue.record;

import io.symbolon.x509.Certificate;
import java.util.AbstractList;
import java.util.List;
import java.util.RandomAccess;

/**
 * The certificates on record as a list that is read page by page: a million of them are never in
 * memory at once. What is issued after it was made is not in it.
 */
final class IssuedView extends AbstractList<Certificate> implements RandomAccess {
  private static final int PAGE = 1_000;

  private final IssueRecords records;
  private final int size;
  private long first;
  private List<Certificate> page = List.of();

  IssuedView(IssueRecords records, long size) {
    this.records = records;
    this.size = Math.toIntExact(size);
  }

  @Override
  public synchronized Certificate get(int index) {
    if (index < 0 || index >= size) {
      throw new IndexOutOfBoundsException(index);
    }
    if (index < first || index >= first + page.size()) {
      first = index;
      page = records.page(index, Math.min(PAGE, size - index));
    }
    if (page.isEmpty()) {
      throw new IndexOutOfBoundsException("taken from the records: " + index);
    }
    return page.get((int) (index - first));
  }

  @Override
  public int size() {
    return size;
  }

  /** By its serial number, and not by looking through all of them. */
  @Override
  public boolean contains(Object one) {
    return one instanceof Certificate certificate
        && records.issued(certificate.serial()).filter(certificate::equals).isPresent();
  }

  List<Certificate> find(String text, int most) {
    return records.find(text, most);
  }
}
