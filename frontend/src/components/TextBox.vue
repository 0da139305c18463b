<script setup lang="ts">
/**
 * A text box that tells what was typed once it is settled (Enter, or leaving it). What stands in it
 * while somebody is in it stays, whatever else on the page is drawn anew meanwhile.
 */
const text = defineModel<unknown>()
</script>

<template><input v-model.lazy="text" /></template>
