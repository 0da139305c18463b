<script setup lang="ts">
import { computed } from 'vue'
import { useSession } from '@/composables/useSession'
import { pressedFor, USUAL } from '@/logic/keys'

/** The key that does it, where one does: as its user chose it. */
const props = defineProps<{ of: string | number }>()
const session = useSession()
const pressed = computed(() => pressedFor(String(props.of), session.state.me?.keys ?? USUAL))
</script>

<template>
  <kbd v-if="pressed">{{ pressed }}</kbd>
</template>
