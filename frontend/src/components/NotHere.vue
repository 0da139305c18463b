<script setup lang="ts">
/** In place of a page: what its address names is not there, or not for this account. */
defineProps<{ title: string; problem: string; to: string; back: string }>()
</script>

<template>
  <div class="empty not-here">
    <h1>{{ title }}</h1>
    <p role="alert">
      {{ problem }}
      <template v-if="problem.startsWith('There is no')">
        It may have another name by now, or not be for your account.
      </template>
    </p>
    <RouterLink :to="to" class="btn fir">{{ back }}</RouterLink>
  </div>
</template>

<style scoped>
.not-here {
  margin: auto;
}
</style>
