/**
 * Symbolon for programs that embed it: reading keys and certificates in whatever form they come,
 * and handing them on as the platform's types.
 *
 * <p>Begin with {@link io.symbolon.Material}, which reads, and {@link io.symbolon.Keystores} and
 * {@link io.symbolon.PemText}, which hand on:
 *
 * <pre>{@code
 * Material material = Material.reader().withPasswords(password).read(Path.of("delivered"));
 * Credential server = material.credential();
 * SSLContext context =
 *     TlsSetup.server(server).requiringClients(material.trust()).context();
 * }</pre>
 *
 * <p>All that is known of what was read is in {@link io.symbolon.Material#survey()}; what is wrong
 * with it, as values and as sentences, in {@link io.symbolon.Material#findings()}. Every failure
 * that the world causes is a {@link io.symbolon.failure.SymbolonException} that says what could not
 * be done, what was seen and what to do; a mistake of the caller is an {@link
 * IllegalArgumentException}.
 */
@NullMarked
package io.symbolon;

import org.jspecify.annotations.NullMarked;
