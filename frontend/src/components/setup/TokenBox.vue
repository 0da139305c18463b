<script setup lang="ts">
import CopyLine from './CopyLine.vue'

/** A program's token: shown this once, to be put where the program reads it. */
defineProps<{ token: string; name: string }>()
</script>

<template>
  <div class="flag token" role="status">
    <p>
      Give this token to {{ name }} now: it is shown this once. It goes with each request, as
      <code class="mono">Authorization: Bearer …</code>
    </p>
    <CopyLine :text="token" label="The token" />
  </div>
</template>

<style scoped>
.token {
  margin: 10px 0;
}
</style>
