<script setup lang="ts">
/** In place of groups: why there are none to be seen. */
defineProps<{ roster: string; isKnown: boolean }>()
</script>

<template>
  <div class="empty">
    <template v-if="isKnown">
      <h2>There are no groups of “{{ roster }}”</h2>
      <p>The roster has none, has another name by now, or is not for your account.</p>
    </template>
    <template v-else>
      <h2>No roster has groups yet</h2>
      <p>
        A roster’s definition says which of its fields are a group:
        <span class="mono">nevefield.groups</span>.
      </p>
    </template>
  </div>
</template>
