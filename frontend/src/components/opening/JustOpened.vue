<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { Modal, message } from 'ant-design-vue'
import { useRouter } from 'vue-router'
import { canTakeBack, takeBackOpening } from '@/api/openings'
import type { Roster } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { ADMINISTER, useSession } from '@/composables/useSession'

/** A roster that was opened from a file and holds nothing yet: its file waits, or it is taken back. */
const props = defineProps<{ roster: Roster }>()
const router = useRouter()
const session = useSession()
const catalog = useCatalog()
const may = ref(false)

function takeBack(): void {
  Modal.confirm({
    title: `Take back that ${props.roster.title} was opened`,
    content:
      'The roster goes, with its files and the code lists that were made with it. ' +
      'Nothing was applied to it, so nobody is lost.',
    okText: 'Take it back',
    cancelText: 'Cancel',
    onOk: async () => {
      try {
        await takeBackOpening(props.roster.name)
        await Promise.all([session.look(), catalog.load()])
        await router.push('/rosters')
      } catch (error) {
        void message.error(error instanceof Error ? error.message : String(error), 6)
      }
    },
  })
}
onMounted(async () => {
  if (props.roster.records || (session.state.me?.everywhere ?? 0) < ADMINISTER) return
  may.value = await canTakeBack(props.roster.name).catch(() => false)
})
</script>

<template>
  <p v-if="may" class="flag">
    This roster was opened from a file, and nothing was applied to it yet: the file waits under
    <RouterLink to="/intakes">Intakes</RouterLink>.
    <button class="link" @click="takeBack">Take the opening back</button>
  </p>
</template>
