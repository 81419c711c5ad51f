/** What a page begins with, for the `load` of a page. */
import { error, redirect } from '@sveltejs/kit'
import { ask, Problem } from './client'

/** The data of an answer. Signed out leads to the sign-in page and back; somebody of the other kind is led home; any other
 * refusal becomes the page that says it. */
export async function loaded<T>(request: Parameters<typeof ask<T>>[0], url: URL): Promise<T> {
  try {
    return await ask(request)
  } catch (refused) {
    if (!(refused instanceof Problem)) throw refused
    if (refused.code === 'signed-out') redirect(307, `/sign-in?then=${encodeURIComponent(url.pathname)}`)
    if (refused.code === 'not-allowed') redirect(307, '/')
    error(refused.status || 503, refused.message)
  }
}
