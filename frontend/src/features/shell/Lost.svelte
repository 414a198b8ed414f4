<script lang="ts">
</script>

<h1>Page not found</h1>
<p>There is nothing at this address. <a href="/">Go to your boats</a>.</p>
