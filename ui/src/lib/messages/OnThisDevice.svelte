<script lang="ts">
  import { onMount } from 'svelte'
  import { api, ask, attempt, type Schemas } from '$lib/api/client'
  import { session } from '$lib/people/session.svelte'
  import { can, off, on, own } from './devices'

  /** Notices on this device, and on which others they come. */
  let { coach = false }: { coach?: boolean } = $props()
  let key = $state<Schemas['PushKey'] | null>(null)
  let devices = $state<Schemas['DeviceView'][]>([])
  let problem = $state('')
  let busy = $state(false)
  const account = session.me?.id ?? ''
  const endpoint = $derived.by(() => (void devices, own(account)?.endpoint))
  const here = $derived(devices.some((d) => d.endpoint === endpoint))
  const others = $derived(devices.filter((d) => d.endpoint !== endpoint))
  const able = $derived(key ? can(key.stand_in) : 'yes')

  const read = async () => {
    devices = await ask(api.GET('/api/my-devices'))
  }
  onMount(() =>
    attempt(
      (why) => (problem = why),
      async () => {
        key = await ask(api.GET('/api/push-key'))
        await read()
      }
    )
  )
  async function turn(to: boolean) {
    problem = ''
    busy = true
    await attempt(
      (why) => (problem = why),
      async () => {
        if (to && key && !(await on(key, account))) problem = 'The browser was told not to show notices.'
        if (!to) await off(account)
        await read()
      }
    )
    busy = false
  }
  const takeOff = (device: Schemas['DeviceView']) =>
    attempt(
      (why) => (problem = why),
      async () => {
        await ask(api.POST('/api/my-devices/take-off', { body: { endpoint: device.endpoint } }))
        await read()
      }
    )
</script>

<section aria-label="Notices on this device">
  <h2 class={coach ? '' : 'text-big'}>Notices on this device</h2>
  <p class="mt-1">
    {coach
      ? 'When a client writes, something hurts or a sudden sign is told. What is urgent comes by mail as well.'
      : 'Reminders, and when your coach writes; then no mail comes for these.'}
    A notice says who, and nothing of what was written. They end when you sign out.
  </p>
  {#if key}
    {#if able === 'yes'}
      <button
        class="mt-3 act {coach ? '' : 'min-h-press'} {here ? 'act-quiet' : ''}"
        disabled={busy}
        onclick={() => turn(!here)}>{here ? 'No notices here' : 'Show notices here'}</button
      >
      {#if here}<span role="status" class="ml-3">They come to this device.</span>{/if}
      {#if key.stand_in}<p class="mt-1 text-row text-soft">
          In this demo they arrive <a class="link" href="/stand-in-mail">here</a>.
        </p>{/if}
    {:else}<p class="mt-2 border-l-4 border-rule pl-3">
        {able === 'refused'
          ? 'This browser was told not to show notices of this page. Allow them in its settings first.'
          : able === 'home screen'
            ? 'Put Dimbo on your home screen first, open it there, and come back here.'
            : 'This browser cannot show notices. Reminders come by mail.'}
      </p>{/if}
  {/if}
  {#each others as d (d.endpoint)}
    <p class="mt-2 flex flex-wrap items-center gap-3">
      Also on {d.name || 'another device'}
      <button class="inline-flex min-h-touch items-center link" onclick={() => takeOff(d)}
        >Not there any more</button
      >
    </p>
  {/each}
  {#if problem}<p role="alert" class="mt-2 text-stop">{problem}</p>{/if}
</section>
