<script setup lang="ts">
import { computed, watch } from 'vue'
import { useEventListener, usePreferredDark } from '@vueuse/core'
import { ConfigProvider } from 'ant-design-vue'
import { useRoute, useRouter } from 'vue-router'
import DropAnywhere from './components/DropAnywhere.vue'
import KeySheet from './components/KeySheet.vue'
import TopLine from './components/TopLine.vue'
import { useCatalog } from './composables/useCatalog'
import { useSession } from './composables/useSession'
import { themeTokens } from './theme/tokens'

const session = useSession()
const catalog = useCatalog()
const route = useRoute()
const router = useRouter()
const dark = usePreferredDark()
/** One page for each intake or roster: another one is another page. */
const place = computed(
  () => `${String(route.matched[0]?.path)}:${String(route.params.id ?? route.params.name ?? '')}`,
)
const look = computed(() => themeTokens(dark.value))

watch(
  () => session.state.me,
  (me) => {
    if (me) return
    catalog.forget()
    if (session.state.asked && !route.meta.open)
      void router.push({ path: '/sign-in', query: { to: route.fullPath } })
  },
)
const EACH_MINUTE = 60_000
let asked = Date.now()
/**
 * Who comes back to the window is told whether the session still is, and where else the account is
 * signed in.
 */
function comeBack(): void {
  if (
    document.visibilityState !== 'visible' ||
    !session.state.me ||
    Date.now() - asked < EACH_MINUTE
  )
    return
  asked = Date.now()
  void session.look()
}
useEventListener(document, 'visibilitychange', comeBack)
</script>

<template>
  <ConfigProvider :theme="look" :auto-insert-space-in-button="false">
    <template v-if="session.state.me">
      <TopLine />
      <DropAnywhere />
      <KeySheet />
    </template>
    <main :class="{ alone: !session.state.me }">
      <RouterView v-slot="{ Component }"><component :is="Component" :key="place" /></RouterView>
    </main>
  </ConfigProvider>
</template>

<style scoped>
main {
  height: calc(100vh - 44px);
  display: flex;
  min-height: 0;
}
main.alone {
  height: 100vh;
}
@media print {
  main {
    height: auto;
    display: block;
  }
}
</style>
