<script lang="ts">
  /** One password: the own one as it is now, or with `fresh` a new one. */
  let {
    label,
    value = $bindable(''),
    fresh = false
  }: { label: string; value?: string; fresh?: boolean } = $props()
</script>

<label class="grid gap-1"
  >{label}<input
    class="field"
    type="password"
    autocomplete={fresh ? 'new-password' : 'current-password'}
    minlength={fresh ? 10 : undefined}
    required
    bind:value
  /></label
>
