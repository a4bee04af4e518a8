/** What users see: text, JSON, colours, commands to give. */
@NullMarked
package io.symbolon.cli.output;

import org.jspecify.annotations.NullMarked;
